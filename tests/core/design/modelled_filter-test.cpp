// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/modelled_filter.h"

#include "core/filter/modelled/ladder.h"
#include "core/filter/modelled/ladder_filter_kernel.h"
#include "core/filter/modelled/state_variable_filter_kernel.h"

#include <cmath>
#include <gtest/gtest.h>
#include <limits>
#include <numbers>
#include <random>

namespace syntonon {
namespace {

using namespace modelled;

constexpr double played_rate_hz = 48000;
constexpr std::array every_ladder_response = {LadderResponse::low_24,  LadderResponse::low_18,
                                              LadderResponse::low_12,  LadderResponse::low_6,
                                              LadderResponse::band_24, LadderResponse::band_12,
                                              LadderResponse::high_24, LadderResponse::high_12,
                                              LadderResponse::notch,   LadderResponse::all_pass};
constexpr std::array every_state_variable_response = {
    StateVariableResponse::low,       StateVariableResponse::band,
    StateVariableResponse::high,      StateVariableResponse::notch,
    StateVariableResponse::peak,      StateVariableResponse::all_pass,
    StateVariableResponse::low_shelf, StateVariableResponse::high_shelf};

std::complex<double> value_at(const ModelledRoots& roots, std::complex<double> s) {
    std::complex<double> h = roots.gain;
    for (const auto& zero : roots.zeros) {
        h *= s - zero;
    }
    for (const auto& pole : roots.poles) {
        h /= s - pole;
    }
    return h;
}

// The answer of what is really computed, to a small impulse.
std::complex<double> computed_at(const Filter& filter, double hz, double size) {
    std::vector<double> signal(4000);
    signal[0] = size;
    filter.run(signal);
    std::complex<double> sum = 0;
    for (std::size_t n = 0; n < signal.size(); ++n) {
        sum +=
            signal[n] / size
            * std::polar(1.0, -2 * std::numbers::pi * hz / played_rate_hz * static_cast<double>(n));
    }
    return sum;
}

TEST(ModelledLadder, IsComputedAsTheLinearFilterThatStandsForIt) {
    for (const LadderType type : {LadderType::transistor, LadderType::diode}) {
        for (const LadderResponse response : every_ladder_response) {
            for (const std::size_t doublings : {0u, 1u, 3u}) {
                LadderBuild build{type, response, false, true, 0.6, doublings};
                const LadderKnobs knobs{1500, 0.7, 9};
                for (build.saturating = false;; build.saturating = true) {
                    const Filter filter = modelled_filter(build, knobs, played_rate_hz);
                    const Probe probe(filter, played_rate_hz);
                    for (const double hz : {30.0, 1000.0, 1500.0, 12000.0}) {
                        const auto wanted = probe.value(hz).h;
                        const double tolerance = build.saturating ? 1e-5 : 1e-9;
                        EXPECT_LT(std::abs(computed_at(filter, hz, 1e-4) - wanted),
                                  tolerance * (1 + std::abs(wanted)))
                            << int(type) << " " << int(response) << " " << doublings << " " << hz;
                    }
                    if (build.saturating) {
                        break;
                    }
                }
            }
        }
    }
}

TEST(ModelledStateVariable, IsComputedAsTheLinearFilterThatStandsForIt) {
    for (const StateVariableResponse response : every_state_variable_response) {
        for (const std::size_t doublings : {0u, 2u}) {
            const StateVariableBuild build{response, false, true, 3, doublings};
            const Filter filter = modelled_filter(build, {800, 0.5, 9, 0}, played_rate_hz);
            const Probe probe(filter, played_rate_hz);
            for (const double hz : {30.0, 700.0, 5000.0}) {
                const auto wanted = probe.value(hz).h;
                EXPECT_LT(std::abs(computed_at(filter, hz, 1) - wanted),
                          1e-9 * (1 + std::abs(wanted)))
                    << int(response) << " " << doublings << " " << hz;
            }
        }
    }
}

// All of it against the two tables of what textbooks say of each response.
TEST(ModelledRoots, MakeWhatTheResponseIsCalled) {
    const std::complex<double> at_set(0, 1), low(0, 1e-4), far(0, 1e4);
    const auto ladder = [](LadderResponse response, double resonance = 0) {
        return modelled_roots({LadderType::transistor, response, true, true, 0, 1},
                              {1000, resonance, 0});
    };
    const auto slope_db = [](const ModelledRoots& roots, double from) { // by octave
        return 20
               * std::log10(std::abs(value_at(roots, {0, 2 * from}) / value_at(roots, {0, from})));
    };
    EXPECT_NEAR(std::abs(value_at(ladder(LadderResponse::low_24), low)), 1, 1e-6);
    EXPECT_NEAR(slope_db(ladder(LadderResponse::low_24), 1e3), -24.08, 0.01);
    EXPECT_NEAR(slope_db(ladder(LadderResponse::low_18), 1e3), -18.06, 0.01);
    EXPECT_NEAR(slope_db(ladder(LadderResponse::low_12), 1e3), -12.04, 0.01);
    EXPECT_NEAR(slope_db(ladder(LadderResponse::low_6), 1e3), -6.02, 0.01);
    EXPECT_NEAR(slope_db(ladder(LadderResponse::band_24), 1e-4), 12.04, 0.01);
    EXPECT_NEAR(slope_db(ladder(LadderResponse::band_12), 1e3), -6.02, 0.01);
    EXPECT_NEAR(slope_db(ladder(LadderResponse::high_24), 1e-4), 24.08, 0.01);
    EXPECT_NEAR(slope_db(ladder(LadderResponse::high_12), 1e-4), 12.04, 0.01);
    EXPECT_NEAR(std::abs(value_at(ladder(LadderResponse::band_24), at_set)), 1, 1e-12);
    EXPECT_NEAR(std::abs(value_at(ladder(LadderResponse::band_12), at_set)), 1, 1e-12);
    EXPECT_NEAR(std::abs(value_at(ladder(LadderResponse::high_24), far)), 1, 1e-6);
    EXPECT_NEAR(std::abs(value_at(ladder(LadderResponse::notch), at_set)), 0, 1e-12);
    for (const double resonance : {0.0, 0.3, 0.95}) {
        for (const double w : {0.01, 0.9, 1.0, 1.3, 40.0}) {
            EXPECT_NEAR(std::abs(value_at(ladder(LadderResponse::all_pass, resonance), {0, w})), 1,
                        1e-9);
        }
    }
}

TEST(ModelledRoots, OfTheDiodeLadderMakeThemToo) {
    const auto ladder = [](LadderResponse response, double resonance = 0) {
        return modelled_roots({LadderType::diode, response, true, true, 0, 1},
                              {1000, resonance, 0});
    };
    for (const auto response : {LadderResponse::low_24, LadderResponse::low_18,
                                LadderResponse::low_12, LadderResponse::low_6}) {
        EXPECT_NEAR(std::abs(value_at(ladder(response), {0, 1e-6})), 1, 1e-6);
        const auto direct = small_signal(LadderType::diode, 0, 4 - std::size_t(response), {0, 0.7});
        const double rest =
            std::abs(small_signal(LadderType::diode, 0, 4 - std::size_t(response), 0));
        EXPECT_LT(std::abs(value_at(ladder(response), {0, 0.7}) - direct / rest), 1e-12);
    }
    EXPECT_NEAR(std::abs(value_at(ladder(LadderResponse::notch, 0.5), {0, 1})), 0, 1e-12);
    EXPECT_NEAR(std::abs(value_at(ladder(LadderResponse::high_24), {0, 1e5})), 1, 1e-4);
    EXPECT_NEAR(std::abs(value_at(ladder(LadderResponse::band_12), {0, 1})), 1, 1e-12);
    for (const double w : {0.01, 1.0, 1.3}) {
        EXPECT_NEAR(std::abs(value_at(ladder(LadderResponse::all_pass, 0.8), {0, w})), 1, 1e-9);
    }
}

TEST(ModelledRoots, OfStateVariablesAreTheirAnalogSections) {
    const double r = 1 - 0.8, a = std::pow(10, 6.0 / 40); // Q = 2.5
    const std::complex<double> s(0, 0.8);
    const auto of = [](StateVariableResponse response) {
        return modelled_roots({response, false, true, 1, 0}, {1000, 0.8, 6, 0});
    };
    const auto below = s * s + 2 * r * s + 1.0;
    EXPECT_LT(std::abs(value_at(of(StateVariableResponse::low), s) - 1.0 / below), 1e-12);
    EXPECT_LT(std::abs(value_at(of(StateVariableResponse::band), s) - 2 * r * s / below), 1e-12);
    EXPECT_LT(std::abs(value_at(of(StateVariableResponse::high), s) - s * s / below), 1e-12);
    EXPECT_LT(std::abs(value_at(of(StateVariableResponse::notch), s) - (s * s + 1.0) / below),
              1e-12);
    EXPECT_LT(std::abs(value_at(of(StateVariableResponse::peak), s)
                       - (s * s + 2 * r * a * s + 1.0) / (s * s + 2 * r / a * s + 1.0)),
              1e-12);
    EXPECT_LT(std::abs(value_at(of(StateVariableResponse::low_shelf), s)
                       - a * (s * s + 2 * r * std::sqrt(a) * s + a)
                             / (a * s * s + 2 * r * std::sqrt(a) * s + 1.0)),
              1e-12);
    EXPECT_LT(std::abs(value_at(of(StateVariableResponse::high_shelf), s)
                       - a * (a * s * s + 2 * r * std::sqrt(a) * s + 1.0)
                             / (s * s + 2 * r * std::sqrt(a) * s + a)),
              1e-12);
}

// The trapezoidal rule bends the axis by the tangent of the inner rate, and nothing else.
TEST(ModelledFilter, IsTheAnalogOneOnTheBentAxis) {
    const LadderBuild build{LadderType::diode, LadderResponse::low_24, false, true, 0, 1};
    const LadderKnobs knobs{2000, 0.8, 0};
    const Probe probe(modelled_filter(build, knobs, played_rate_hz), played_rate_hz);
    const ModelledRoots roots = modelled_roots(build, knobs);
    for (double hz = 20; hz <= 10000; hz *= 1.1) {
        const double bent =
            std::tan(std::numbers::pi * hz / (2 * played_rate_hz))
            / std::tan(std::numbers::pi * knobs.frequency_hz / (2 * played_rate_hz));
        EXPECT_NEAR(probe.level_db(hz), 20 * std::log10(std::abs(value_at(roots, {0, bent}))),
                    1e-3);
    }
}

TEST(ModelledFilter, InAnAnalogChannelIsTheModelItself) {
    const Axis analog(played_rate_hz, Domain::analog);
    const LadderBuild build{LadderType::transistor, LadderResponse::notch, true, true, 0, 1};
    const LadderKnobs knobs{2000, 0.5, 0};
    const Filter filter = modelled_filter(build, knobs, analog);
    ASSERT_TRUE(filter.is_analog());
    const auto roots = modelled_roots(build, knobs);
    for (const double hz : {20.0, 1900.0, 30000.0}) {
        EXPECT_LT(std::abs(Probe(filter, analog).value(hz).h
                           - value_at(roots, {0, hz / knobs.frequency_hz})),
                  1e-12);
    }
}

TEST(ModelledFilter, BeyondItsLimitIsHeldByItsStages) {
    LadderBuild build;
    const Filter swings = modelled_filter(build, {440, 1.3, 0}, played_rate_hz);
    EXPECT_TRUE(swings.is_stable()) << "bounded";
    EXPECT_GT(*swings.slowest_pole_radius(), 1) << "for all that, small signals grow";
    build.doublings = 0;
    EXPECT_TRUE(modelled_filter(build, {440, 0.9, 0}, played_rate_hz).sections());
    const auto sections = modelled_filter(build, {440, 1.3, 0}, played_rate_hz).sections();
    ASSERT_FALSE(sections) << "nothing would hold them on a processor";
    EXPECT_NE(sections.error().reason.find("swings by itself"), std::string::npos);
    std::vector<double> signal(48000);
    signal[0] = 0.01;
    swings.run(signal);
    double most = 0;
    for (std::size_t n = 24000; n < signal.size(); ++n) {
        most = std::max(most, std::abs(signal[n]));
    }
    EXPECT_NEAR(most, self_oscillation(LadderType::transistor, 1.3)->amplitude, 0.05 * most);
}

TEST(ModelledFilter, BassCompensationHoldsTheLevelOfLowFrequencies) {
    LadderBuild build;
    const auto bass_db = [&](double share) {
        build.bass_compensation = share;
        return Probe(modelled_filter(build, {1000, 0.9, 0}, played_rate_hz), played_rate_hz)
            .level_db(5);
    };
    EXPECT_NEAR(bass_db(0), -20 * std::log10(1 + 3.6), 0.01);
    EXPECT_NEAR(bass_db(1), 0, 0.01);
    EXPECT_GT(bass_db(0.5), bass_db(0) + 5);
}

TEST(ModelledFilter, NotPrewarpedItLiesLower) {
    LadderBuild build{LadderType::transistor, LadderResponse::notch, false, false, 0, 0};
    const auto deepest_hz = [&] {
        const Probe probe(modelled_filter(build, {8000, 0, 0}, played_rate_hz), played_rate_hz);
        double at = 0, least = 1e9;
        for (double hz = 5000; hz < 9000; hz += 1) {
            if (probe.level_db(hz) < least) {
                least = probe.level_db(hz);
                at = hz;
            }
        }
        return at;
    };
    const double lower =
        played_rate_hz / std::numbers::pi * std::atan(std::numbers::pi * 8000 / played_rate_hz);
    EXPECT_NEAR(deepest_hz(), lower, 1);
    build.prewarped = true;
    EXPECT_NEAR(deepest_hz(), 8000, 1);
}

// Knobs changing at every sample.
TEST(ModelledVoices, AreEachToTheLastBitAsAlone) {
    constexpr std::size_t count = 4;
    std::mt19937_64 random(11);
    std::uniform_real_distribution<double> share(0, 1);
    for (const LadderResponse response : {LadderResponse::low_24, LadderResponse::all_pass}) {
        const LadderBuild build{LadderType::diode, response, true, true, 0.5, 1};
        LadderFilter<count> together;
        std::array<LadderFilter<1>, count> alone;
        together.prepare(build, played_rate_hz);
        for (auto& one : alone) {
            one.prepare(build, played_rate_hz);
        }
        for (int n = 0; n < 2000; ++n) {
            LadderFilter<count>::Row row{};
            std::array<double, count> wanted{};
            for (std::size_t j = 0; j < count; ++j) {
                const LadderKnobs knobs{20 * std::pow(900, share(random)), 1.4 * share(random),
                                        30 * share(random)};
                together.set(j, knobs);
                alone[j].set(0, knobs);
                LadderFilter<1>::Row x{2 * share(random) - 1};
                row[j] = x[0];
                alone[j].process(&x, 1);
                wanted[j] = x[0];
            }
            together.process(&row, 1);
            ASSERT_EQ(row, wanted) << n;
        }
        together.reset(2);
        LadderFilter<count>::Row silence{};
        together.process(&silence, 1);
        EXPECT_EQ(silence[2], 0);
        EXPECT_NE(silence[1], 0);
    }
}

// What is no number comes in, or is set, and is gone again.
TEST(ModelledVoices, RecoverFromWhatIsNoNumber) {
    const double nan = std::numeric_limits<double>::quiet_NaN();
    const double infinite = std::numeric_limits<double>::infinity();
    const auto expect_recovered = [&](auto& filter, auto knobs) {
        using Row = typename std::decay_t<decltype(filter)>::Row;
        for (const double odd : {nan, infinite, -infinite}) {
            Row x{odd};
            filter.process(&x, 1);
            auto set = knobs;
            set.frequency_hz = odd;
            filter.set(0, set);
            x[0] = 0.5;
            filter.process(&x, 1);
            filter.set(0, knobs);
            for (int n = 0; n < 20'000; ++n) {
                x[0] = 0;
                filter.process(&x, 1);
            }
            EXPECT_LT(std::abs(x[0]), 1e-3) << odd;
        }
    };
    for (const bool saturating : {true, false}) {
        for (const LadderType type : {LadderType::transistor, LadderType::diode}) {
            LadderFilter<1> ladder;
            ladder.prepare({type, LadderResponse::low_24, saturating, true, 0.5, 1},
                           played_rate_hz);
            const LadderKnobs knobs{900, 0.5, 0};
            ladder.set(0, knobs);
            expect_recovered(ladder, knobs);
        }
    }
    StateVariableFilter<1> state_variable;
    state_variable.prepare({}, played_rate_hz);
    const StateVariableKnobs knobs{900, 0.5, 0, 0};
    state_variable.set(0, knobs);
    expect_recovered(state_variable, knobs);
}

} // namespace
} // namespace syntonon
