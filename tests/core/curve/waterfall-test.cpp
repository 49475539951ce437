// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/waterfall.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

namespace syntonon {
namespace {

// Two modes that die away at different speeds.
ImpulseResponse modes() {
    ImpulseResponse impulse{8000, std::vector<double>(16'000), 0};
    for (std::size_t n = 0; n < impulse.samples.size(); ++n) {
        const double s = static_cast<double>(n) / 8000;
        impulse.samples[n] =
            std::pow(10, -3 * s / 1.0) * std::cos(2 * std::numbers::pi * 100 * s)
            + std::pow(10, -3 * s / 0.25) * std::cos(2 * std::numbers::pi * 1000 * s);
    }
    return impulse;
}

TEST(Waterfall, EachModeFallsAtItsOwnRate) {
    WaterfallPlan plan;
    plan.to_s = 0.4;
    plan.slices = 5;
    plan.high_hz = 3000;
    plan.points_an_octave = 12;
    const Waterfall found = waterfall_of(modes(), plan);
    ASSERT_EQ(found.time_s.size(), 5u);
    EXPECT_NEAR(found.time_s[2], 0.2, 1e-12);
    const auto at = [&](double hz, std::size_t slice) {
        const auto place = std::ranges::min_element(
            found.frequency_hz, {}, [&](double f) { return std::abs(std::log(f / hz)); });
        return found.level_db[slice][static_cast<std::size_t>(place - found.frequency_hz.begin())];
    };
    EXPECT_NEAR(at(100, 2) - at(100, 0), -12, 0.5);
    EXPECT_NEAR(at(100, 4) - at(100, 2), -12, 0.5);
    EXPECT_NEAR(at(1000, 1) - at(1000, 0), -24, 1);
    EXPECT_NEAR(at(1000, 2) - at(1000, 1), -24, 2);
    double greatest = -1000;
    for (const auto& slice : found.level_db) {
        greatest = std::max(greatest, std::ranges::max(slice));
    }
    EXPECT_EQ(greatest, 0);
}

TEST(Waterfall, OfSilenceItIsEmptyAndItCanBeStopped) {
    EXPECT_TRUE(waterfall_of({48'000, std::vector<double>(100), 0}).level_db.empty());
    Watch watch;
    watch.stop();
    EXPECT_TRUE(waterfall_of(modes(), {}, watch).level_db.empty());
}

} // namespace
} // namespace syntonon
