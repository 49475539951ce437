// What each form of filter answers, against closed forms and sums written out.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/form.h"

#include "core/base/units.h"
#include "core/design/parametric.h"
#include "core/filter/main_delay.h"
#include "tests/support/noise.h"
#include "tests/support/rate.h"
#include "tests/support/section.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <complex>
#include <fmt/format.h>
#include <gtest/gtest.h>
#include <limits>
#include <numbers>
#include <random>
#include <thread>

namespace syntonon {
namespace {

using Complex = std::complex<double>;
Complex value_at(const Filter& filter, double hz) {
    return Probe(filter, rate).value(hz).h;
}

// All answers of a filter must tell of one and the same thing: the transform of its impulse
// response, which has died away after `length` samples.
void expect_agreement(const Filter& filter, std::size_t length) {
    const auto h = filter.impulse_response(length);
    const auto grid =
        FrequencyGrid::from_frequencies({0, 31, 440, 5000, 11999, 12001, 17321, 24000}, rate)
            .value();
    const auto values = filter.values(grid);
    const Response response = filter.response(grid);
    const auto level = filter.magnitude_db(grid), delay = filter.group_delay_samples(grid),
               phase = filter.wrapped_phase_rad(grid);
    double size = 0;
    for (const double v : h) {
        size += std::abs(v);
    }
    for (std::size_t i = 0; i < grid.size(); ++i) {
        const double hz = grid.frequency_hz()[i];
        std::complex<long double> sum = 0, slope = 0;
        for (std::size_t n = 0; n < h.size(); ++n) {
            const long double turns = static_cast<long double>(n) * hz / rate;
            const long double angle =
                -2 * std::numbers::pi_v<long double> * (turns - std::floor(turns));
            const auto term = static_cast<long double>(h[n])
                              * std::complex<long double>(std::cos(angle), std::sin(angle));
            sum += term;
            slope -= std::complex<long double>(0, static_cast<long double>(n)) * term;
        }
        const Complex wanted(sum), wanted_slope(slope);
        EXPECT_NEAR(std::abs(values[i].h - wanted), 0, 1e-11 * size) << hz;
        EXPECT_NEAR(std::abs(values[i].slope - wanted_slope), 0, 1e-8 * size) << hz;
        if (std::abs(wanted) < 1e-6 * size) {
            continue;
        }
        EXPECT_NEAR(level[i], db_from_ratio(std::abs(wanted)), 1e-6) << hz;
        EXPECT_NEAR(response.magnitude_db[i], level[i], 1e-9);
        EXPECT_NEAR(std::remainder(phase[i] - std::arg(wanted), 2 * pi), 0, 1e-8) << hz;
        EXPECT_NEAR(std::remainder(response.phase_rad[i] - phase[i], 2 * pi), 0, 1e-8) << hz;
        const double wanted_delay = -std::imag(wanted_slope / wanted);
        EXPECT_NEAR(delay[i], wanted_delay, 1e-6 * (1 + std::abs(wanted_delay))) << hz;
        EXPECT_NEAR(response.group_delay_samples[i], delay[i], 1e-9 * (1 + std::abs(delay[i])));
        const Probe probe(filter, rate);
        EXPECT_NEAR(probe.level_db(hz), level[i], 1e-9);
        EXPECT_NEAR(probe.group_delay_samples(hz), delay[i], 1e-9 * (1 + std::abs(delay[i])));
    }
}

// The roots rebuild the transfer function off the circle.
void expect_roots_rebuild(const Filter& filter, double tolerance = 1e-9) {
    ASSERT_TRUE(filter.roots()) << to_text(filter.roots().error());
    for (const double hz : {100.0, 3000.0, 15000.0}) {
        const Complex z = std::polar(1.0, rad_per_sample_from_hz(hz, rate));
        const Complex direct = value_at(filter, hz);
        EXPECT_NEAR(std::abs(value_of(*filter.roots(), z).h - direct), 0,
                    tolerance * (1 + std::abs(direct)))
            << hz;
    }
}

Filter closed(Loop loop) {
    return closed_loop(std::move(loop)).value();
}

Filter sum(std::vector<ParallelSum::Branch> branches) {
    return Filter(ParallelSum{std::move(branches)});
}

TEST(Forms, AGainIsItsFactor) {
    const Filter turned(Gain{-0.5});
    expect_agreement(turned, 4);
    expect_roots_rebuild(turned);
    EXPECT_EQ(turned.impulse_response(2), (std::vector<double>{-0.5, 0}));
    EXPECT_EQ(turned.cost().multiplies, 1);
    EXPECT_EQ(Filter(Gain{-1}).cost().multiplies, 0);
    EXPECT_EQ(turned.sections()->sections, (std::vector<Biquad>{{-0.5, 0, 0, 0, 0}}));
}

TEST(Forms, ADelayTurnsThePhaseAndNothingElse) {
    const Filter filter(Delay{1000});
    expect_agreement(filter, 1001);
    expect_roots_rebuild(filter, 1e-10);
    const auto grid = FrequencyGrid::logarithmic(10, 24000, 50, rate).value();
    const Response response = filter.response(grid);
    for (std::size_t i = 0; i < grid.size(); ++i) {
        EXPECT_NEAR(response.phase_rad[i],
                    -1000 * rad_per_sample_from_hz(grid.frequency_hz()[i], rate), 1e-8);
        EXPECT_EQ(response.group_delay_samples[i], 1000);
    }
    EXPECT_EQ(filter.latency_samples(), 1000);
    EXPECT_EQ(filter.cost().state_words, 1000);
    EXPECT_EQ(filter.impulse_response(5), (std::vector<double>(5, 0.0)));
    EXPECT_FALSE(filter.sections());
}

TEST(Forms, TapsAreTheirOwnImpulseResponse) {
    for (const std::size_t count : {1u, 7u, 48u, 49u, 600u}) {
        const auto x = noise(count, 9);
        const Filter filter{Taps(x)};
        EXPECT_EQ(filter.impulse_response(count), x);
        expect_agreement(filter, count);
        EXPECT_EQ(filter.cost().taps, static_cast<int>(count));
        EXPECT_EQ(filter.roots().has_value(), count <= most_taps_with_roots);
        EXPECT_TRUE(filter.is_stable());
    }
    expect_roots_rebuild(Filter(Taps(noise(40, 2))));
    expect_roots_rebuild(Filter(Taps({0, 0, 1, -0.3, 0.2, 0})));
    EXPECT_EQ(Filter(Taps({0, 0, 1, -0.3})).latency_samples(), 2);
}

TEST(Forms, MostOfALinearPhaseFirComesInItsMiddle) {
    const Filter fir{Taps({0.1, -0.2, 0.9, -0.2, 0.1})};
    EXPECT_EQ(fir.latency_samples(), 0);
    EXPECT_EQ(main_delay_samples(fir), 2);
    const Filter delay{Delay{7}};
    EXPECT_EQ(main_delay_samples(delay), 7);
    EXPECT_EQ(main_delay_samples(
                  series(std::array{fir, delay, Filter(Cascade{{Biquad{0, 1, 0, 0, 0}}})})),
              10);
    EXPECT_EQ(main_delay_samples(repeated(fir, 3)), 6);
}

TEST(Forms, SymmetricTapsHaveLinearPhaseBesideTheirZerosToo) {
    auto x = noise(200, 4);
    x.insert(x.end(), x.rbegin(), x.rend());
    const Filter filter{Taps(x)};
    const auto grid = FrequencyGrid::linear(0, 24000, 5000, rate).value();
    for (const double delay : filter.group_delay_samples(grid)) {
        EXPECT_TRUE(std::isnan(delay) || delay == 199.5);
    }
    // Averaging eight samples: zeros at multiples of 6 kHz.
    const Filter average{Taps(std::vector<double>(8, 0.125))};
    EXPECT_LT(Probe(average, rate).level_db(6000), -280);
    EXPECT_NEAR(Probe(average, rate).group_delay_samples(6000.001), 3.5, 1e-12);
}

TEST(Forms, TapsAreSharedNotCopied) {
    const auto values = std::make_shared<const std::vector<double>>(noise(1000, 3));
    const Filter filter{Taps(values)}, copy = filter;
    const std::vector<Filter> chain{filter, Filter(Gain{2})};
    EXPECT_EQ(std::get<Taps>(copy.form()).values().data(), values->data());
    EXPECT_EQ(
        std::get<Taps>(std::get<Series>(series(chain).form()).parts[0].form()).values().data(),
        values->data());
}

TEST(Forms, ASeriesIsTheProductOfItsParts) {
    const std::vector<Filter> chain{section(ParametricShape::peak, 500, 6, 2), Filter(Delay{3}),
                                    Filter(Taps({1, -0.4, 0.1})), Filter(Gain{0.5})};
    const Filter filter = series(chain);
    expect_agreement(filter, 6000);
    expect_roots_rebuild(filter);
    EXPECT_EQ(filter.latency_samples(), 3);
    EXPECT_EQ(filter.cost().sections, 1);
    EXPECT_EQ(filter.cost().taps, 3);
}

TEST(Forms, CascadesInASeriesBecomeOne) {
    const std::vector<Filter> chain{section(ParametricShape::peak, 500, 6, 2),
                                    section(ParametricShape::low_pass, 5000, 0, 1)};
    const Filter filter = series(chain);
    ASSERT_TRUE(std::holds_alternative<Cascade>(filter.form()));
    EXPECT_EQ(std::get<Cascade>(filter.form()).sections.size(), 2u);
    EXPECT_EQ(filter.roots()->poles[0], chain[0].roots()->poles[0]) << "handed on";
    EXPECT_TRUE(series(std::vector{chain[0]}).is_same_as(chain[0]));
    EXPECT_TRUE(series({}).is_same_as(Filter()));
    const std::vector<Filter> nested{filter, Filter(Delay{1}), filter};
    EXPECT_EQ(std::get<Series>(series(std::vector{series(nested), filter}).form()).parts.size(),
              3u);
}

// 1 / (1 - z^-200): no bounds at 0, 240, 480 Hz …, nothing there that could be taken for silence.
TEST(Forms, ALoopOnTheEdgeOfStabilityHasNoBoundsAtItsPoles) {
    const Filter comb = Loop{Filter(), 1, Filter(Delay{200})};
    const Filter parts[] = {Filter(Gain{0.5}), comb};
    for (const Filter& filter : {comb, series(parts)}) {
        for (const double hz : {0.0, 240.0, 12000.0}) {
            const ResponsePoint at = filter.response_at(hz, 48000);
            EXPECT_GT(at.magnitude_db, 250) << hz;
            EXPECT_FALSE(std::isnan(at.phase_rad)) << hz;
        }
        // Just above a pole 1 / (1 - e^(-jx)) is 1 / (jx).
        EXPECT_NEAR(filter.response_at(240, 48000).phase_rad, -std::numbers::pi / 2, 1e-6);
        EXPECT_NEAR(filter.response_at(240.001, 48000).phase_rad, -std::numbers::pi / 2, 1e-3);
    }
    EXPECT_NEAR(comb.response_at(120, 48000).magnitude_db, -20 * std::log10(2.0), 1e-9);
}

TEST(Forms, ASumIsTheSumOfItsBranches) {
    const Filter filter = sum({{1, section(ParametricShape::low_pass, 1000, 0, 0.7)},
                               {-0.5, section(ParametricShape::high_pass, 3000, 0, 0.9)},
                               {0.25, Filter(Delay{20})}});
    expect_agreement(filter, 4000);
    expect_roots_rebuild(filter);
    EXPECT_EQ(filter.latency_samples(), 0);
    EXPECT_EQ(filter.cost().sections, 2);
    EXPECT_TRUE(filter.is_stable());
    EXPECT_FALSE(filter.sections());
    EXPECT_EQ(sum({}).impulse_response(2), (std::vector<double>{0, 0}));
}

// Two all-passes side by side: half their sum is a low-pass, half their difference its complement
// (Regalia, Mitra and Vaidyanathan, Proc. IEEE 76, 1988, eq. 2.1-2.7). First order beside a wire:
// H = (1 + A)/2, A = (c + z^-1)/(1 + c z^-1), is ((1 + c)/2) (1 + z^-1) / (1 + c z^-1).
TEST(Forms, ParallelAllPassesHaveTheirClosedForm) {
    for (const double c : {-0.9, -0.2, 0.5}) {
        const Filter all_pass(Cascade{{Biquad{c, 1, 0, c, 0}}});
        const Filter low = sum({{0.5, Filter()}, {0.5, all_pass}});
        const Filter high = sum({{0.5, Filter()}, {-0.5, all_pass}});
        const Filter wanted(Cascade{{Biquad{(1 + c) / 2, (1 + c) / 2, 0, c, 0}}});
        const auto grid = FrequencyGrid::logarithmic(10, 23999, 500, rate).value();
        const auto level = low.magnitude_db(grid), wanted_level = wanted.magnitude_db(grid);
        const auto phase = low.response(grid).phase_rad,
                   wanted_phase = wanted.response(grid).phase_rad;
        const auto delay = low.group_delay_samples(grid),
                   wanted_delay = wanted.group_delay_samples(grid);
        for (std::size_t i = 0; i < grid.size(); ++i) {
            EXPECT_NEAR(level[i], wanted_level[i], 1e-7);
            EXPECT_NEAR(phase[i], wanted_phase[i], 1e-7);
            EXPECT_NEAR(delay[i], wanted_delay[i], 1e-6);
            const double power = std::norm(value_at(low, grid.frequency_hz()[i]))
                                 + std::norm(value_at(high, grid.frequency_hz()[i]));
            EXPECT_NEAR(power, 1, 1e-13) << "power complementary";
        }
        ASSERT_TRUE(low.roots());
        ASSERT_EQ(low.roots()->zeros.size(), 1u);
        EXPECT_NEAR(std::abs(low.roots()->zeros[0] + 1.0), 0, 1e-14) << "at half the rate";
        EXPECT_NEAR(low.roots()->gain, (1 + c) / 2, 1e-15);
    }
}

TEST(Forms, PolesThatBranchesShareCountOnce) {
    // Low- and high-pass of one crossover, added: a notch or an all-pass over the same poles.
    const Filter both = sum({{1, section(ParametricShape::low_pass, 1000, 0, 0.5)},
                             {-1, section(ParametricShape::high_pass, 1000, 0, 0.5)}});
    ASSERT_TRUE(both.roots());
    EXPECT_LE(both.roots()->poles.size(), 2u);
    expect_roots_rebuild(both, 1e-6);
}

TEST(Forms, BranchesThatCancelAreSilence) {
    const Filter nothing = sum({{1, Filter(Delay{2})}, {-1, Filter(Delay{2})}});
    EXPECT_EQ(Probe(nothing, rate).level_db(1000), -INFINITY);
    EXPECT_EQ(nothing.roots()->gain, 0);
}

TEST(Forms, ALoopWithADelayIsAComb) {
    // y[n] = x[n] + 0.7 y[n-12]: |H|^2 = 1 / (1 - 1.4 cos 12w + 0.49).
    const Filter comb = closed({Filter(), 0.7, Filter(Delay{12})});
    expect_agreement(comb, 1200);
    expect_roots_rebuild(comb);
    EXPECT_EQ(comb.roots()->poles.size(), 12u);
    EXPECT_NEAR(*comb.stability_margin(), 1 - std::pow(0.7, 1.0 / 12), 1e-12);
    for (const double hz : {0.0, 777.0, 2000.0, 24000.0}) {
        const double w = rad_per_sample_from_hz(hz, rate);
        EXPECT_NEAR(Probe(comb, rate).level_db(hz),
                    -db_from_power(1 - 1.4 * std::cos(12 * w) + 0.49), 1e-12);
    }
}

TEST(Forms, ALoopWithoutDelayIsSolved) {
    // y = x - 0.5 y = x / 1.5
    const Filter filter = closed({Filter(), -0.5, Filter()});
    EXPECT_NEAR(filter.impulse_response(3)[0], 1 / 1.5, 1e-15);
    EXPECT_NEAR(filter.impulse_response(3)[1], 0, 1e-15);
    EXPECT_FALSE(closed_loop({Filter(), 1, Filter()}));
    EXPECT_EQ(closed_loop({Filter(), 1, Filter()}).error().place, "feedback.factor");
}

TEST(Forms, ALoopAroundSectionsHasAllItsAnswersInOrder) {
    const std::vector<Filter> back{Filter(Delay{7}),
                                   section(ParametricShape::low_pass, 4000, 0, 0.7)};
    const Filter filter = closed({section(ParametricShape::peak, 900, 4, 1), 0.5, series(back)});
    expect_agreement(filter, 8000);
    expect_roots_rebuild(filter, 1e-8);
    EXPECT_TRUE(filter.is_stable());
    EXPECT_FALSE(closed({Filter(), 1.01, Filter(Delay{3})}).is_stable());
}

TEST(Forms, AnUnstableLoopIsRunAsItGrows) {
    const auto grown = closed({Filter(), 1.5, Filter(Delay{1})}).impulse_response(20'000);
    for (const std::size_t n : {0u, 1u, 20u, 1000u, 1700u}) {
        const double wanted = std::pow(1.5, static_cast<double>(n));
        EXPECT_NEAR(grown[n], wanted, 1e-12 * wanted) << n;
    }
    EXPECT_TRUE(std::isfinite(grown[1700]));
    EXPECT_FALSE(std::isfinite(grown[1800])) << "beyond all numbers";
}

TEST(Forms, ARepetitionIsWhatItSays) {
    const Filter one = series(std::array{section(ParametricShape::peak, 900, -7, 1.5),
                                         Filter(Delay{3}), Filter(Gain{-0.9})});
    const Filter five = repeated(one, 5);
    const Filter same = series(std::array{one, one, one, one, one});
    expect_agreement(five, 4000);
    for (const double hz : {0.0, 50.0, 900.0, 7000.0, 24000.0}) {
        const Complex wanted = value_at(same, hz);
        EXPECT_NEAR(std::abs(value_at(five, hz) - wanted), 0, 1e-13 * std::abs(wanted));
    }
    EXPECT_EQ(five.latency_samples(), 15);
    EXPECT_EQ(five.cost(), same.cost());
    EXPECT_EQ(five.roots()->poles.size(), 10u);
    EXPECT_NEAR(five.roots()->gain, same.roots()->gain, 1e-15);
    EXPECT_FALSE(five.sections()) << "a delay has none";
    EXPECT_EQ(repeated(section(ParametricShape::notch, 50, 0, 9), 3).sections()->sections.size(),
              3u);
}

TEST(Forms, RepetitionsWithinOneAnotherAreOne) {
    const Filter notch = section(ParametricShape::notch, 50, 0, 9);
    EXPECT_TRUE(repeated(notch, 1).is_same_as(notch));
    EXPECT_EQ(repeated(repeated(notch, 3), 4), repeated(notch, 12));
    EXPECT_EQ(repeated(Filter(), 7), Filter()) << "a wire is a wire";
}

TEST(Forms, TellingFrequenciesFindEveryToothOfAComb) {
    // 1 + 0.9 z^-480: dips every 100 Hz from 50 Hz on.
    const Filter comb = sum({{1, Filter()}, {0.9, Filter(Delay{480})}});
    auto telling = comb.telling_hz({20, 24000, std::exp2(1.0 / 48), rate});
    std::ranges::sort(telling);
    const Probe probe(comb, rate);
    int dips = 0;
    for (std::size_t i = 1; i + 1 < telling.size(); ++i) {
        const double level = probe.level_db(telling[i]);
        dips += level < probe.level_db(telling[i - 1]) && level <= probe.level_db(telling[i + 1]);
    }
    EXPECT_EQ(dips, 240);
}

TEST(Forms, WhatRipplesTooOftenForADrawingHidesNoNeighbour) {
    const std::vector<Filter> chain{Filter(Taps(noise(20000, 1))),
                                    section(ParametricShape::notch, 1000, 0, 5000)};
    TellingRange range{20, 24000, 1.01, rate};
    EXPECT_GT(series(chain).telling_hz(range).size(), 20000u);
    range.most_ripples = 1000;
    const auto left = series(chain).telling_hz(range);
    EXPECT_LT(left.size(), 1000u);
    EXPECT_TRUE(std::ranges::any_of(left, [](double hz) { return std::abs(hz - 1000) < 1e-6; }));
}

TEST(Forms, ThreadsMayAskOneFilter) {
    const Filter filter{Taps(noise(400, 8))};
    std::vector<std::thread> threads;
    std::vector<double> levels(4);
    for (std::size_t i = 0; i < levels.size(); ++i) {
        threads.emplace_back([&, i] {
            const Filter own = filter;
            levels[i] =
                Probe(own, rate).level_db(1000) + static_cast<double>(own.roots()->zeros.size());
        });
    }
    for (std::thread& thread : threads) {
        thread.join();
    }
    for (const double level : levels) {
        EXPECT_EQ(level, levels[0]);
    }
}

// 131072 random taps against a sum term by term, at 200 frequencies.
TEST(Forms, LongTapsAreRightTo1e12OfThePeak) {
    const auto x = noise(131072, 6);
    const Filter filter{Taps(x)};
    std::mt19937 random(7);
    std::uniform_real_distribution<double> place(0, 24000);
    std::vector<double> hz(200);
    std::ranges::generate(hz, [&] { return place(random); });
    const auto grid = FrequencyGrid::from_frequencies(hz, rate).value();
    const auto values = filter.values(grid);
    double worst = 0, peak = 0;
    for (std::size_t i = 0; i < grid.size(); ++i) {
        std::complex<long double> direct = 0;
        // Turned step by step, afresh every 64 samples.
        const long double cycles = static_cast<long double>(grid.frequency_hz()[i]) / rate;
        const auto turn = [&](long double n) {
            const long double angle =
                -2 * std::numbers::pi_v<long double> * (n * cycles - std::floor(n * cycles));
            return std::complex<long double>(std::cos(angle), std::sin(angle));
        };
        const auto step = turn(1);
        for (std::size_t n = 0; n < x.size();) {
            auto phasor = turn(static_cast<long double>(n));
            for (const std::size_t end = n + 64; n < end; ++n) {
                direct += static_cast<long double>(x[n]) * phasor;
                phasor *= step;
            }
        }
        worst = std::max(worst, std::abs(values[i].h - Complex(direct)));
        peak = std::max(peak, static_cast<double>(std::abs(direct)));
    }
    RecordProperty("worst_of_peak", fmt::format("{:.2g}", worst / peak));
    EXPECT_LT(worst, 1e-12 * peak);
}

// 1 / (1 + z^-1) has no bounds at half the rate, 1 / (1 - z^-1)^2 none at 0 Hz: where they are
// added to something, so has the sum.
TEST(Forms, ASumOnAPoleOfABranchIsAsLargeAsCanBeTold) {
    const Filter half(Cascade{{Biquad{1, 0, 0, 1, 0}}}), twice(Cascade{{Biquad{1, 0, 0, -2, 1}}});
    for (const auto& [branch, hz] : {std::pair(half, rate / 2), std::pair(twice, 0.0)}) {
        const Filter sum(ParallelSum{{{1, Filter(Gain{2})}, {-0.5, branch}}});
        const ResponsePoint at = sum.response_at(hz, rate);
        EXPECT_GT(at.magnitude_db, 280);
        EXPECT_TRUE(std::isfinite(at.magnitude_db) && std::isfinite(at.phase_rad));
        EXPECT_NEAR(sum.response_at(1000, rate).magnitude_db,
                    20 * std::log10(std::abs(2.0 - 0.5 * Probe(branch, rate).value(1000).h)), 1e-9);
    }
}

// 231^300 is no number that a double holds; its phase is anybody's guess.
TEST(Forms, ASumBeyondAllNumbersIsAsLargeAsTheGreatestOfThem) {
    const Filter large(Cascade{std::vector(300, Biquad{200, 30, 1, 0, 0})});
    const Filter sum(ParallelSum{{{1, Filter(Gain{2})}, {-0.5, large}}});
    for (const double hz : {0.0, 1000.0, rate / 2}) {
        const ResponsePoint at = sum.response_at(hz, rate);
        EXPECT_NEAR(at.magnitude_db, 20 * std::log10(std::numeric_limits<double>::max()), 1e-9);
        EXPECT_TRUE(std::isfinite(at.phase_rad));
    }
}

} // namespace
} // namespace syntonon
