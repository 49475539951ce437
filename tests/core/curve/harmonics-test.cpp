// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/harmonics.h"

#include "core/base/units.h"
#include "core/curve/deconvolution.h"
#include "core/curve/sweep.h"
#include "tests/support/noise.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

SweepPlan plan_of_6_s() {
    SweepPlan plan;
    plan.length_s = 6;
    plan.lead_out_s = 1.5;
    return plan;
}

double at(const HarmonicLevels& levels, const std::vector<double>& values, double hz) {
    const auto near = std::ranges::lower_bound(levels.frequency_hz, hz);
    return values.at(static_cast<std::size_t>(near - levels.frequency_hz.begin()));
}

std::vector<HarmonicLevels> levels_of(const std::vector<double>& recording, const SweepPlan& plan) {
    const auto made = deconvolved(recording, plan);
    EXPECT_TRUE(made);
    return harmonic_levels(*made, plan);
}

// sin^2 = (1 - cos 2) / 2 and sin^3 = (3 sin - sin 3) / 4.
TEST(HarmonicLevels, OfAKnownCharacteristic) {
    const SweepPlan plan = plan_of_6_s();
    auto recording = played_samples(plan);
    for (double& sample : recording) {
        sample += 0.02 * sample * sample + 0.01 * sample * sample * sample;
    }
    const auto orders = levels_of(recording, plan);
    ASSERT_EQ(orders.size(), 4U);
    const double peak = ratio_from_db(plan.peak_db);
    const double second_db = db_from_ratio(0.02 / 2 * peak);
    const double third_db = db_from_ratio(0.01 / 4 * peak * peak);
    for (const double hz : {100.0, 1000.0, 5000.0}) {
        EXPECT_NEAR(at(orders[0], orders[0].level_db, hz), second_db, 0.2) << hz;
        EXPECT_NEAR(at(orders[1], orders[1].level_db, hz), third_db, 0.5) << hz;
        EXPECT_LT(at(orders[2], orders[2].level_db, hz), -75) << hz;
    }
    EXPECT_LE(orders[0].frequency_hz.back(), plan.to_hz / 2);
    EXPECT_GT(orders[0].frequency_hz.back(), plan.to_hz / 2 * 0.9);
    EXPECT_LE(orders[3].frequency_hz.back(), plan.to_hz / 5);
    EXPECT_LT(orders[0].frequency_hz.front(), 20);
    const auto all = all_harmonics_db(orders);
    ASSERT_EQ(all.size(), orders[0].frequency_hz.size());
    EXPECT_NEAR(at(orders[0], all, 1000),
                db_from_power(power_from_db(second_db) + power_from_db(third_db)), 0.2);
}

// A loudspeaker without any: what is found is the noise, and said to be so.
TEST(HarmonicLevels, NoiseIsTold) {
    const SweepPlan plan = plan_of_6_s();
    auto recording = played_samples(plan);
    const auto noisy = noise(recording.size(), 5);
    for (std::size_t n = 0; n < recording.size(); ++n) {
        recording[n] += 0.003 * noisy[n];
    }
    const auto orders = levels_of(recording, plan);
    ASSERT_FALSE(orders.empty());
    for (const HarmonicLevels& order : orders) {
        for (const double hz : {200.0, 1000.0, 3000.0}) {
            EXPECT_NEAR(at(order, order.level_db, hz), at(order, order.noise_db, hz), 5)
                << order.order << " at " << hz;
        }
    }
}

TEST(HarmonicLevels, NothingOfNothing) {
    EXPECT_TRUE(harmonic_levels({}, plan_of_6_s()).empty());
    EXPECT_TRUE(all_harmonics_db({}).empty());
}

} // namespace
} // namespace syntonon
