// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/sweep.h"

#include "core/base/units.h"
#include "core/math/fft.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

SweepPlan quick_plan() {
    SweepPlan plan;
    plan.from_hz = 20;
    plan.to_hz = 20'000;
    plan.length_s = 3;
    return plan;
}

TEST(Sweep, RisesEquallyLongThroughEachOctave) {
    const SweepPlan plan = quick_plan();
    const std::vector<double> sweep = sweep_samples(plan);
    EXPECT_NEAR(static_cast<double>(sweep.size()) / plan.sample_rate_hz, plan.length_s, 0.2);
    // Zeros passed upwards between the times of f and 2 f: what the frequency adds up to.
    const double octave_s = octave_time_s(plan);
    for (const int octave : {2, 5, 8}) {
        const double from_hz = plan.from_hz * std::exp2(octave);
        const auto at = [&](int k) {
            return static_cast<std::size_t>(std::lround(k * octave_s * plan.sample_rate_hz));
        };
        int passed = 0;
        for (std::size_t n = at(octave); n < at(octave + 1); ++n) {
            passed += sweep[n] < 0 && sweep[n + 1] >= 0 ? 1 : 0;
        }
        EXPECT_NEAR(passed, from_hz * octave_s / std::log(2.0), 1.01) << octave;
    }
    const auto greatest = std::ranges::max(sweep);
    EXPECT_NEAR(db_from_ratio(greatest), plan.peak_db, 0.01);
    EXPECT_NEAR(sweep.front(), 0, 1e-12);
    EXPECT_NEAR(sweep.back(), 0, 1e-3);
}

TEST(Sweep, HasSilenceAroundIt) {
    const SweepPlan plan = quick_plan();
    const auto played = played_samples(plan);
    const auto sweep = sweep_samples(plan);
    EXPECT_EQ(lead_in_samples(plan), 24'000U);
    EXPECT_EQ(played.size(), 24'000 + sweep.size() + 120'000);
    EXPECT_TRUE(
        std::all_of(played.begin(), played.begin() + 24'000, [](double x) { return x == 0; }));
    EXPECT_TRUE(std::equal(sweep.begin(), sweep.end(), played.begin() + 24'000));
}

// Within the range, away from its faded ends.
TEST(Sweep, TheInverseFilterMakesAnImpulseOfIt) {
    const SweepPlan plan = quick_plan();
    const auto sweep = sweep_samples(plan), inverse = inverse_filter(plan);
    const auto impulse = convolved(sweep, inverse, sweep.size() + inverse.size() - 1);
    const auto highest =
        std::ranges::max_element(impulse, {}, [](double x) { return std::abs(x); });
    EXPECT_EQ(highest - impulse.begin(), static_cast<std::ptrdiff_t>(sweep.size()) - 1);
    RealFft fft(quick_fft_length(impulse.size()));
    std::ranges::fill(std::ranges::copy(impulse, fft.signal().begin()).out, fft.signal().end(),
                      0.0);
    fft.to_spectrum();
    for (double hz = 60; hz < 17'000; hz *= 1.1) {
        const auto k = static_cast<std::size_t>(
            std::lround(hz / plan.sample_rate_hz * static_cast<double>(fft.length())));
        EXPECT_NEAR(db_from_ratio(std::abs(fft.spectrum()[k])), 0, 0.5) << hz;
    }
}

TEST(Sweep, WhatMakesNoSenseIsRefusedByName) {
    const auto place = [](auto change) {
        SweepPlan plan;
        change(plan);
        const auto ok = check(plan);
        return ok ? std::string() : ok.error().place;
    };
    EXPECT_EQ(place([](SweepPlan&) {}), "");
    EXPECT_EQ(place([](SweepPlan& p) { p.from_hz = 0; }), "to_hz");
    EXPECT_EQ(place([](SweepPlan& p) { p.to_hz = 5; }), "to_hz");
    EXPECT_EQ(place([](SweepPlan& p) { p.to_hz = 24'001; }), "to_hz");
    EXPECT_EQ(place([](SweepPlan& p) { p.length_s = std::nan(""); }), "length_s");
    EXPECT_EQ(place([](SweepPlan& p) { p.lead_out_s = -1; }), "lead_out_s");
    EXPECT_EQ(place([](SweepPlan& p) { p.peak_db = 1; }), "peak_db");
    EXPECT_EQ(place([](SweepPlan& p) { p.sample_rate_hz = 0; }), "sample_rate_hz");
}

TEST(Sweep, FadesOutWithinItsLast24thOfAnOctave) {
    SweepPlan plan;
    plan.to_hz = 16'000;
    EXPECT_EQ(faded_out_at(plan, 16'000 * std::exp2(-1.0 / 23)), 1);
    EXPECT_NEAR(faded_out_at(plan, 16'000 * std::exp2(-1.0 / 48)), 0.5, 1e-12);
    EXPECT_EQ(faded_out_at(plan, 16'000), 0);
    EXPECT_EQ(faded_out_at(plan, 20'000), 0);
}

} // namespace
} // namespace syntonon
