// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir.h"

#include "core/base/units.h"
#include "tests/support/fir_designs.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

WindowedFir windowed(ClassicalBand band, double f0, double f1 = 0) {
    WindowedFir method;
    method.band = band;
    method.edges_hz = {f0, f1};
    return method;
}

TEST(WindowedFir, IsHalfAtItsEdgesAndOneInItsBand) {
    using enum ClassicalBand;
    const struct {
        WindowedFir method;
        double one_at;
    } all[] = {{windowed(low_pass, 6000), 0},
               {windowed(high_pass, 6000), 24000},
               {windowed(band_pass, 6000, 14000), 10000},
               {windowed(band_stop, 6000, 14000), 0}};
    for (const auto& [method, one_at] : all) {
        EXPECT_NEAR(level_db(with(method), 6000), -6.02, 0.01);
        EXPECT_NEAR(level_db(with(method), one_at), 0, 1e-9);
    }
}

// Oppenheim and Schafer, example 7.5.1: a Kaiser low-pass, wp = 0.4 pi, ws = 0.6 pi, 0.01 and
// 0.001: A = 60, beta = 5.653, M = 37. The formula's length is met to one tap.
TEST(WindowedFir, TheTextbooksKaiserLowPass) {
    WindowedFir method;
    method.by = WindowedFir::By::tolerances;
    method.tolerances.pass_edges_hz = {0.2 * rate, 0};
    method.tolerances.stop_edges_hz = {0.3 * rate, 0};
    method.tolerances.pass_as_ratio = method.tolerances.stop_as_ratio = true;
    method.tolerances.pass_ratio = {0.99, 1.01};
    method.tolerances.stop_ratio = 0.001;
    const auto taps = taps_of(with(method));
    EXPECT_NEAR(double(taps.size()), 38, 1);
    const Filter filter = filter_of(with(method));
    for (double hz = 0; hz <= 24000; hz += 25) {
        const double gain = ratio_from_db(filter.response_at(hz, rate).magnitude_db);
        if (hz <= 0.2 * rate) {
            EXPECT_NEAR(gain, 1, 0.01);
        } else if (hz >= 0.3 * rate) {
            EXPECT_LE(gain, 0.001);
        }
    }
}

TEST(WindowedFir, ADelayOfItsOwnIsKept) {
    WindowedFir method = windowed(ClassicalBand::low_pass, 8000);
    method.delay_samples = 49.3;
    const auto point = filter_of(with(method)).response_at(3000, rate);
    EXPECT_NEAR(point.group_delay_samples, 49.3, 0.002);
    EXPECT_NEAR(level_db(with(method), 0), 0, 1e-9);
}

TEST(WindowedFir, BandsAreBridged) {
    WindowedFir method;
    method.by = WindowedFir::By::bands;
    method.window = {WindowShape::hamming, 0, {}};
    FirSpec spec = with(method, 255);
    spec.wish.bands = {{1000, 4000, 1, 2.0, 1, {}}, {8000, 12000, 0.5, {}, 1, {}}};
    const Filter filter = filter_of(spec);
    const auto gain = [&](double hz) {
        return ratio_from_db(filter.response_at(hz, rate).magnitude_db);
    };
    EXPECT_NEAR(gain(100), 1, 0.01);
    EXPECT_NEAR(gain(2500), 1.5, 0.01);
    EXPECT_NEAR(gain(6000), 1.25, 0.02);
    EXPECT_NEAR(gain(10000), 0.5, 0.01);
    EXPECT_NEAR(gain(22000), 0.5, 0.01);
}

TEST(EquirippleFir, TheShortestThatMeetsTolerances) {
    EquirippleFir method;
    method.by_tolerances = true;
    method.tolerances.pass_edges_hz = {4800, 0};
    method.tolerances.stop_edges_hz = {6000, 0};
    method.tolerances.pass_ripple_db = 0.5;
    method.tolerances.stop_attenuation_db = 60;
    const auto made = design(with(method), brief_at(rate), Watch());
    ASSERT_TRUE(made);
    const Working working = made->working();
    const WorkingStep& length = working.steps[0];
    EXPECT_EQ(length.title, "Length");
    const double found = length.numbers[0].value;
    EXPECT_LE(length.numbers[1].value, 1);
    EXPECT_GT(length.numbers[2].value, 1) << "the one below fails";
    EXPECT_NEAR(found, length.numbers[4].value, 5) << "Herrmann, Rabiner and Chan";
    for (double hz = 0; hz <= 24000; hz += 20) {
        const double db = made->filter.response_at(hz, rate).magnitude_db;
        if (hz <= 4800) {
            EXPECT_LE(db, 1e-4);
            EXPECT_GE(db, -0.5 - 1e-4);
        } else if (hz >= 6000) {
            EXPECT_LE(db, -60 + 1e-4);
        }
    }
    FirSpec shorter;
    shorter.method = EquirippleFir();
    shorter.length = int(found) - 1;
    const double pass = (1 - ratio_from_db(-0.5)) / 2;
    shorter.wish.bands = {{0, 4800, 1 - pass, {}, 1 / pass, {}}, {6000, 24000, 0, {}, 1000, {}}};
    const double below =
        design(shorter, brief_at(rate), Watch())->working().steps[0].numbers[0].value;
    EXPECT_GT(below, 1);
}

TEST(EquirippleFir, AHalfBandHasEverySecondTapZero) {
    EquirippleFir method;
    method.form = EquirippleFir::Form::half_band;
    FirSpec spec = with(method, 47);
    spec.wish.bands = {{0, 10000, 1, {}, 1, {}}};
    const auto taps = taps_of(spec);
    for (int n = 0; n < 47; ++n) {
        if (n != 23 && (n - 23) % 2 == 0) {
            EXPECT_EQ(taps[std::size_t(n)], 0);
        }
    }
    EXPECT_EQ(taps[23], 0.5);
    const Filter filter = filter_of(spec);
    for (double hz = 0; hz < 10000; hz += 100) {
        const auto h = [&](double f) {
            return ratio_from_db(filter.response_at(f, rate).magnitude_db);
        };
        EXPECT_NEAR(h(hz), 1, 0.01);
        EXPECT_NEAR(std::abs(h(hz) - 1), h(24000 - hz), 1e-9) << "mirrored about a quarter";
    }
    spec.length = 45;
    EXPECT_EQ(refused(spec).place, "length");
}

TEST(EquirippleFir, MagnitudeOnlyIsBetterThanLinearPhase) {
    EquirippleFir method;
    FirSpec spec = with(method, 31);
    spec.wish.bands = {{0, 4000, 1, {}, 1, {}}, {6000, 24000, 0, {}, 1, {}}};
    const auto error = [](const Filter& filter) {
        double greatest = 0;
        for (double hz = 0; hz <= 24000; hz += 10) {
            const double gain = ratio_from_db(filter.response_at(hz, rate).magnitude_db);
            greatest = std::max(greatest, hz <= 4000 ? std::abs(gain - 1) : hz >= 6000 ? gain : 0);
        }
        return greatest;
    };
    const double linear = error(filter_of(spec));
    method.form = EquirippleFir::Form::magnitude_only;
    spec.method = method;
    const auto made = design(spec, brief_at(rate), Watch());
    ASSERT_TRUE(made);
    const double least = error(made->filter);
    EXPECT_LT(least, linear * 0.8);
    EXPECT_NEAR(least, made->working().steps[0].numbers[0].value, 1e-4);
    EXPECT_EQ(std::get<Taps>(made->filter.form()).values().size(), 31u);
}

TEST(FractionalDelayFir, DelaysByPartsOfASample) {
    for (const auto by : {FractionalDelayFir::By::lagrange, FractionalDelayFir::By::windowed_sinc,
                          FractionalDelayFir::By::least_squares}) {
        FractionalDelayFir method;
        method.by = by;
        method.delay_samples = 15.37;
        const auto made = design(with(method, 32), brief_at(rate), Watch());
        ASSERT_TRUE(made);
        const auto point = made->filter.response_at(5000, rate);
        EXPECT_NEAR(point.group_delay_samples, 15.37, 1e-3);
        const Working working = made->working();
        ASSERT_EQ(working.marked_hz.size(), 1u);
        EXPECT_GT(working.marked_hz[0], 9000);
        EXPECT_LT(working.marked_hz[0], 24000);
    }
}

TEST(FromChainFir, IsTheChainCutOffOrInLinearPhase) {
    Brief brief = brief_at(rate);
    brief.above = Filter(Cascade{{Biquad{0.2, 0.1, 0, -0.7, 0.2}}});
    FirSpec spec = with(FromChainFir(), 201);
    const auto cut = taps_of(spec, brief);
    const auto whole = brief.above.impulse_response(201);
    for (std::size_t n = 0; n < 150; ++n) {
        EXPECT_NEAR(cut[n], whole[n], 1e-15);
    }
    for (const auto phase : {FirPhase::linear, FirPhase::minimum}) {
        spec.phase = phase;
        const auto made = design(spec, brief, Watch());
        ASSERT_TRUE(made);
        for (const double hz : {0.0, 1000.0, 7000.0, 23000.0}) {
            EXPECT_NEAR(made->filter.response_at(hz, rate).magnitude_db,
                        brief.above.response_at(hz, rate).magnitude_db, 1e-6);
        }
        if (phase == FirPhase::linear) {
            EXPECT_NEAR(made->filter.response_at(3000, rate).group_delay_samples, 100, 1e-6);
            EXPECT_EQ(std::get<Taps>(made->filter.form()).symmetry(), 1);
        }
    }
    brief.above = Filter(Cascade{{Biquad{1, 0, 0, -2.1, 1.2}}});
    EXPECT_NE(refused(spec, brief).reason.find("unstable"), std::string::npos);
}

TEST(Fir, PhasesKeepTheLevel) {
    FirSpec spec = with(windowed(ClassicalBand::low_pass, 6000), 61);
    const auto before = filter_of(spec);
    for (const auto phase : {FirPhase::minimum, FirPhase::maximum, FirPhase::between}) {
        spec.phase = phase;
        EXPECT_NEAR(level_db(spec, 3000), before.response_at(3000, rate).magnitude_db,
                    phase == FirPhase::between ? 0.01 : 1e-3);
    }
    spec.phase = FirPhase::linear;
    EXPECT_EQ(taps_of(spec), std::vector<double>(std::get<Taps>(before.form()).values().begin(),
                                                 std::get<Taps>(before.form()).values().end()));
}

TEST(Fir, FrequenciesStayWhereTheyAreAtAnyRate) {
    FirSpec equiripple = with(EquirippleFir(), 81), squares = with(LeastSquaresFir(), 81);
    FirSpec edges = with(windowed(ClassicalBand::low_pass, 5000), 201);
    for (FirSpec* spec : {&equiripple, &squares}) {
        spec->wish.bands = {{0, 4000, 1, {}, 1, {}}, {6000, 22000, 0, {}, 1, {}}};
    }
    for (const double other : {44100.0, 48000.0, 50000.0}) {
        const auto level = [&](const FirSpec& spec, double hz) {
            const auto made = design(spec, brief_at(other), Watch());
            EXPECT_TRUE(made) << to_text(made.error());
            return made->filter.response_at(hz, other).magnitude_db;
        };
        EXPECT_NEAR(level(edges, 5000), -6.02, 0.02) << other;
        for (const FirSpec& spec : {equiripple, squares}) {
            EXPECT_NEAR(level(spec, 4000), 0, 0.5) << other;
            EXPECT_LT(level(spec, 6000), -25) << other;
        }
    }
}

TEST(Fir, TheGoalIsAsGoodAsBands) {
    Brief brief = brief_at(rate);
    brief.wished = std::make_shared<const Wished>(
        Wished{{{0, 4000}, {0, 0}, {}, {}, {}}, {{8000, 12000, 24000}, {-6, -6, -12}, {}, {}, {}}});
    FirSpec spec = with(LeastSquaresFir(), 121);
    spec.wish.use_goal = true;
    EXPECT_TRUE(needs_of(spec).wished);
    const auto made = design(spec, brief, Watch());
    ASSERT_TRUE(made);
    EXPECT_NEAR(made->filter.response_at(2000, rate).magnitude_db, 0, 0.05);
    EXPECT_NEAR(made->filter.response_at(10000, rate).magnitude_db, -6, 0.05);
    EXPECT_NEAR(made->filter.response_at(24000 / std::sqrt(2.0), rate).magnitude_db, -9, 0.1);
    EXPECT_EQ(refused(spec).place, "use_goal");
}

// Up to 5 kHz within a dB, from 8 kHz at least 60 dB down.
Brief of_a_corridor() {
    Brief brief = brief_at(rate);
    brief.wished =
        std::make_shared<const Wished>(Wished{{{0, 5000}, {0, 0}, {-0.1, -0.1}, {0.1, 0.1}, {}},
                                              {{8000, 24000}, {}, {}, {-60, -60}, {}}});
    return brief;
}

TEST(Fir, TheShortestThatAGoalAllowsMeetsItsCorridorAndOneLessDoesNot) {
    EquirippleFir method;
    method.by_tolerances = true;
    FirSpec spec = with(method);
    spec.wish.use_goal = true;
    EXPECT_TRUE(length_follows(spec) && needs_of(spec).wished && !is_quick(spec));
    const Brief brief = of_a_corridor();
    const auto is_met = [](const Filter& filter) {
        for (double hz = 0; hz <= 24000; hz += 2) {
            const double db = filter.response_at(hz, rate).magnitude_db;
            if ((hz <= 5000 && std::abs(db) > 0.1 + 1e-6) || (hz >= 8000 && db > -60 + 1e-6)) {
                return false;
            }
        }
        return true;
    };
    const auto made = design(spec, brief, Watch());
    ASSERT_TRUE(made) << to_text(made.error());
    EXPECT_TRUE(is_met(made->filter));
    const std::size_t length = std::get<Taps>(made->filter.form()).values().size();
    std::get<EquirippleFir>(spec.method).by_tolerances = false;
    spec.length = static_cast<int>(length);
    EXPECT_TRUE(is_met(design(spec, brief, Watch())->filter)) << "the same one, by its length";
    spec.length -= 1;
    EXPECT_FALSE(is_met(design(spec, brief, Watch())->filter));
}

TEST(Fir, WhatNoLengthCanFollowIsRefused) {
    EquirippleFir method;
    method.by_tolerances = true;
    FirSpec spec = with(method);
    spec.wish.use_goal = true;
    Brief brief = brief_at(rate);
    const auto why = [&] { return design(spec, brief, Watch()).error(); };
    brief.wished = std::make_shared<const Wished>(Wished{{{0, 24000}, {0, 0}, {}, {}, {}}});
    EXPECT_NE(why().reason.find("no corridor"), std::string::npos);
    brief.wished = std::make_shared<const Wished>(
        Wished{{{0, 5000}, {0, 0}, {-1, -1}, {1, 1}, {}}, {{5000, 24000}, {}, {}, {-60, -60}, {}}});
    EXPECT_NE(why().reason.find("jumps at 5 kHz"), std::string::npos) << why().reason;
    brief.wished = std::make_shared<const Wished>(
        Wished{{{0, 5000}, {0, 0}, {-1, -1}, {1, 1}, {}}, {{5001, 24000}, {}, {}, {-60, -60}, {}}});
    EXPECT_EQ(why().place, "use_goal");
    EXPECT_NE(why().reason.find("takes about"), std::string::npos) << why().reason;
    std::get<EquirippleFir>(spec.method).form = EquirippleFir::Form::half_band;
    EXPECT_EQ(why().place, "form");
}

TEST(Fir, BadInputIsNamedAtItsPlace) {
    using enum ClassicalBand;
    const auto place = [](const FirSpec& spec) { return refused(spec).place; };
    FirSpec spec;
    spec.length = 0;
    EXPECT_EQ(place(spec), "length");
    EXPECT_EQ(place(with(windowed(high_pass, 6000), 100)), "length");
    EXPECT_NE(refused(with(windowed(high_pass, 6000), 100)).reason.find("type II"),
              std::string::npos);
    EXPECT_EQ(place(with(windowed(low_pass, 30000))), "edges_hz[0]");
    EXPECT_EQ(place(with(windowed(band_pass, 6000, 5000))), "edges_hz[1]");
    EXPECT_EQ(place(with(EquirippleFir(), 9000)), "length");
    const auto bands = [&](std::vector<FirBand> all) {
        FirSpec stated = with(LeastSquaresFir());
        stated.wish.bands = std::move(all);
        return place(stated);
    };
    EXPECT_EQ(bands({}), "bands");
    EXPECT_EQ(bands({{0, 4000, 0, {}, 1, {}}}), "bands");
    EXPECT_EQ(bands({{0, 4000, 1, {}, 1, {}}, {3000, 24000, 0, {}, 1, {}}}), "bands[1].from_hz");
    EXPECT_EQ(bands({{4000, 4000, 1, {}, 1, {}}}), "bands[0].to_hz");
    EXPECT_EQ(bands({{0, 25000, 1, {}, 1, {}}}), "bands[0].to_hz");
    EXPECT_EQ(bands({{0, 4000, 1, {}, 0, {}}}), "bands[0].weight");
    EXPECT_EQ(bands({{0, 4000, std::nan(""), {}, 1, {}}}), "bands[0].gain");
    EquirippleFir hilbert;
    hilbert.symmetry = FirSymmetry::odd;
    FirSpec odd = with(hilbert, 41);
    EXPECT_EQ(place(odd), "symmetry") << "the first band begins at 0 Hz";
    odd.wish.bands = {{1000, 20000, 1, {}, 1, {}}};
    EXPECT_TRUE(design(odd, brief_at(rate), Watch()));
    odd.phase = FirPhase::minimum;
    EXPECT_EQ(place(odd), "phase");
    WindowedFir late = windowed(low_pass, 6000);
    late.delay_samples = 20.5;
    FirSpec delayed = with(late);
    delayed.phase = FirPhase::minimum;
    EXPECT_EQ(place(delayed), "phase");
    late.delay_samples = 200;
    EXPECT_EQ(place(with(late)), "delay_samples");
    EXPECT_EQ(place(with(SavitzkyGolayFir{5, 0}, 5)), "degree");
    EXPECT_EQ(place(with(SavitzkyGolayFir{2, 3}, 5)), "derivative");
    EXPECT_EQ(place(with(RaisedCosineFir{60000, 0.3})), "symbol_rate_hz");
    EXPECT_EQ(place(with(MovingAverageFir{40}, 100000)), "power");
    SampledFir at_the_end;
    at_the_end.samples = {{24000, 1, {}}};
    EXPECT_EQ(place(with(at_the_end, 8)), "samples[0].gain");
    EXPECT_TRUE(design(with(at_the_end, 9), brief_at(rate), Watch()));
    EquirippleFir half_band;
    half_band.form = EquirippleFir::Form::half_band;
    EXPECT_EQ(refused(with(half_band, 1)).way_out, "take 3 or 7");
    EquirippleFir least_error;
    least_error.form = EquirippleFir::Form::magnitude_only;
    FirSpec everything = with(least_error, 31);
    everything.wish.bands = {{0, 24000, 1, {}, 1, {}}};
    EXPECT_NE(refused(everything).reason.find("exactly"), std::string::npos);
    LeastSquaresFir antisymmetric;
    antisymmetric.symmetry = FirSymmetry::odd;
    FirSpec one = with(antisymmetric, 1);
    one.wish.bands = {{1000, 20000, 1, {}, 1, {}}};
    EXPECT_EQ(place(one), "length");
    Brief silent = brief_at(rate);
    silent.above = Filter(Gain{0});
    FirSpec chain = with(FromChainFir());
    chain.phase = FirPhase::linear;
    EXPECT_NE(refused(chain, silent).reason.find("silence"), std::string::npos);
    const Axis analog(rate, Domain::analog);
    EXPECT_FALSE(design(FirSpec(), brief_at(analog), Watch()));
}

TEST(Fir, ItsNumbersAreFieldsOfItsMethod) {
    const auto keys = [](const FirSpec& spec) {
        std::vector<std::string> all;
        for (const auto& field : fields_of(spec)) {
            if (field.get(spec)) {
                all.emplace_back(field.key);
            }
        }
        return all;
    };
    EXPECT_EQ(keys(with(windowed(ClassicalBand::low_pass, 1000))),
              (std::vector<std::string>{"length", "edges_hz[0]", "window_parameter"}));
    EXPECT_EQ(keys(with(SavitzkyGolayFir())),
              (std::vector<std::string>{"length", "degree", "derivative"}));
    EXPECT_EQ(keys(with(RootRaisedCosineFir())),
              (std::vector<std::string>{"length", "symbol_rate_hz", "roll_off"}));
    EquirippleFir method;
    method.by_tolerances = true;
    FirSpec by_tolerances = with(method);
    EXPECT_EQ(keys(by_tolerances).front(), "spec.pass_edges_hz[0]");
    for (const auto& field : fields_of(by_tolerances)) {
        if (const auto value = field.get(by_tolerances)) {
            field.set(by_tolerances, *value * 2);
            EXPECT_EQ(field.get(by_tolerances), *value * 2) << field.key;
        }
    }
    FirSpec banded = with(LeastSquaresFir());
    EXPECT_EQ(rows_of(banded)[0].count(banded), 2u);
    rows_of(banded)[1].set(banded, 0, 4500);
    EXPECT_EQ(banded.wish.bands[0].to_hz, 4500);
}

} // namespace
} // namespace syntonon
