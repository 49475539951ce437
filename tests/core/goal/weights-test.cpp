// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/weights.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

TEST(Weights, NothingGivenCountsOne) {
    EXPECT_EQ(weight_at(Weights{}, 1000), 1);
    EXPECT_TRUE(Weights{}.empty());
}

TEST(Weights, TheCurveIsStraightInLogarithms) {
    Weights weights;
    weights.points = {{100, 1, {}}, {10000, 100, {}}};
    EXPECT_NEAR(weight_at(weights, 1000), 10, 1e-12);
    EXPECT_EQ(weight_at(weights, 10), 1);
    EXPECT_EQ(weight_at(weights, 20000), 100);
}

TEST(Weights, RangesMultiply) {
    Weights weights;
    weights.points = {{100, 2, {}}};
    weights.ranges = {{50, 500, 3, {}}, {200, 1000, 0.5, {}}};
    EXPECT_EQ(weight_at(weights, 100), 6);
    EXPECT_EQ(weight_at(weights, 300), 3);
    EXPECT_EQ(weight_at(weights, 800), 1);
    EXPECT_EQ(weight_at(weights, 5000), 2);
}

TEST(Weights, RefusesNamingThePlace) {
    const auto place = [](const Weights& weights) { return check(weights).error().place; };
    EXPECT_EQ(place({{{100, 0, {}}}, {}, {}}), "points[0].weight");
    EXPECT_EQ(place({{{100, NAN, {}}}, {}, {}}), "points[0].weight");
    EXPECT_EQ(place({{{100, 1, {}}, {100, 1, {}}}, {}, {}}), "points[1].frequency_hz");
    EXPECT_EQ(place({{}, {{100, 100, 1, {}}}, {}}), "ranges[0].to_hz");
    EXPECT_EQ(place({{}, {{100, 200, -1, {}}}, {}}), "ranges[0].weight");
}

} // namespace
} // namespace syntonon
