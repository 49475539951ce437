// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/grid.h"

#include <cmath>
#include <gtest/gtest.h>
#include <limits>

namespace syntonon {
namespace {

constexpr double fs = 48000;

TEST(EvenSpacing, HasBothEndsExactlyAndEqualRatiosOrSteps) {
    const EvenSpacing ratios{true, 20, 20480, 11}, steps{false, 0, 24000, 9};
    EXPECT_EQ(ratios.at(0), 20);
    EXPECT_EQ(ratios.at(10), 20480);
    EXPECT_EQ(steps.at(0), 0);
    EXPECT_EQ(steps.at(8), 24000);
    for (std::size_t i = 0; i + 1 < ratios.count; ++i) { // ten octaves in ten steps
        EXPECT_NEAR(ratios.at(i + 1) / ratios.at(i), 2, 1e-14);
    }
    for (std::size_t i = 0; i + 1 < steps.count; ++i) {
        EXPECT_EQ(steps.at(i + 1) - steps.at(i), 3000);
    }
}

TEST(EvenSpacing, IsNotPossibleWithoutARangeOrTwoPoints) {
    constexpr double nan = std::numeric_limits<double>::quiet_NaN();
    EXPECT_TRUE((EvenSpacing{false, 0, 1, 2}.is_possible()));
    EXPECT_FALSE((EvenSpacing{true, 0, 1, 2}.is_possible())) << "0 Hz has no ratio to anything";
    EXPECT_FALSE((EvenSpacing{false, -1, 1, 2}.is_possible()));
    EXPECT_FALSE((EvenSpacing{false, 1, 1, 2}.is_possible()));
    EXPECT_FALSE((EvenSpacing{false, 1, 2, 1}.is_possible()));
    EXPECT_FALSE((EvenSpacing{false, nan, 2, 2}.is_possible()));
    EXPECT_FALSE((EvenSpacing{true, 1, nan, 2}.is_possible()));
}

TEST(FrequencyGridTest, IsTheSpacingWithItsAngles) {
    const EvenSpacing spacing{true, 10, 24000, 301};
    const auto grid = FrequencyGrid::evenly(spacing, fs);
    ASSERT_TRUE(grid);
    ASSERT_EQ(grid->size(), spacing.count);
    for (std::size_t i = 0; i < spacing.count; i += 50) {
        const double w = 2 * std::acos(-1.0) * spacing.at(i) / fs;
        EXPECT_EQ(grid->frequency_hz()[i], spacing.at(i));
        EXPECT_NEAR(grid->half_sine_squared()[i], (1 - std::cos(w)) / 2, 1e-15);
        EXPECT_NEAR(grid->sine()[i], std::sin(w), 1e-15);
    }
    EXPECT_TRUE(grid->point(300).is_end());
}

TEST(FrequencyGridTest, RefusesWhatIsNoRangeOrBeyondHalfTheRate) {
    EXPECT_FALSE(FrequencyGrid::evenly({true, 100, 50, 10}, fs));
    EXPECT_FALSE(FrequencyGrid::logarithmic(0, 50, 10, fs));
    EXPECT_FALSE(FrequencyGrid::linear(0, 30000, 10, fs));
}

} // namespace
} // namespace syntonon
