// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/level_means.h"

#include "core/curve/curve.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

const std::vector<double> corners_hz{100, 200, 400, 3200}, corner_levels_db{0, 6, -6, 12};

TEST(LevelMeans, OfAStraightLineIsItsMiddle) {
    const LevelMeans means(corners_hz, corner_levels_db);
    EXPECT_NEAR(means.over(100 * std::sqrt(2), 0.5), 3, 1e-12);
    EXPECT_NEAR(means.over(1000, 1.0), -6 + 6 * std::log2(1000.0 / 400), 1e-12);
}

TEST(LevelMeans, AgreesWithTheMeanOfARange) {
    const LevelMeans means(corners_hz, corner_levels_db);
    Curve curve;
    curve.frequency_hz = corners_hz;
    curve.magnitude_db = corner_levels_db;
    for (const double middle : {180.0, 390.0, 700.0}) {
        for (const double width : {0.1, 1.0, 1.6}) {
            const double ratio = std::exp2(width / 2);
            EXPECT_NEAR(means.over(middle, width),
                        *mean_level_db(curve, middle / ratio, middle * ratio), 1e-10)
                << middle << ' ' << width;
        }
    }
}

TEST(LevelMeans, EndsWithTheCurve) {
    const LevelMeans means(corners_hz, corner_levels_db);
    EXPECT_NEAR(means.over(100, 2), 3, 1e-12) << "only its upper half is there";
    EXPECT_EQ(means.over(20, 0.1), 0);
    EXPECT_EQ(means.over(20000, 0.1), 12);
    EXPECT_NEAR(means.over(200, 0), 6, 1e-12);
    const LevelMeans point(std::vector{1000.0}, std::vector{-3.0});
    EXPECT_EQ(point.over(1000, 1), -3);
}

} // namespace
} // namespace syntonon
