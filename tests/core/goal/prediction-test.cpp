// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/prediction.h"

#include "core/base/units.h"
#include "core/design/parametric.h"
#include "tests/support/rate.h"
#include "tests/support/section.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <limits>

namespace syntonon {
namespace {

std::vector<Filter> some_chain() {
    return {section(ParametricShape::high_pass, 30, 0, 0.8),
            section(ParametricShape::peak, 500, -6, 3),
            section(ParametricShape::high_shelf, 8000, 4, 0.7)};
}

Curve sloping_curve(double low_hz, double high_hz, int points) {
    Curve curve;
    for (int i = 0; i < points; ++i) {
        curve.frequency_hz.push_back(low_hz * std::pow(high_hz / low_hz, i / (points - 1.0)));
        curve.magnitude_db.push_back(6.0 - 0.01 * i);
    }
    return curve;
}

TEST(Prediction, IsTheSumOfTheStagesAndTheMeasurement) {
    const auto chain = some_chain();
    const Curve curve = sloping_curve(20, 20000, 100);
    const CurveReader measured(curve);
    const Prediction prediction(series(chain), &measured, rate);
    const auto grid = FrequencyGrid::logarithmic(25, 19000, 57, rate).value();
    const auto levels = prediction.levels_db(grid);
    for (std::size_t i = 0; i < grid.size(); ++i) {
        const double hz = grid.frequency_hz()[i];
        double expected = measured.magnitude_db_at(hz);
        for (const Filter& filter : chain) {
            expected += filter.response_at(hz, rate).magnitude_db;
        }
        EXPECT_NEAR(levels[i], expected, 1e-9);
        EXPECT_NEAR(prediction.level_db_at(hz), expected, 1e-9);
    }
}

TEST(Prediction, IsKnownWhereTheMeasurementIs) {
    const Curve curve = sloping_curve(50, 30000, 10);
    const CurveReader measured(curve);
    EXPECT_EQ(Prediction(Filter(), &measured, rate).low_hz(), 50);
    EXPECT_EQ(Prediction(Filter(), &measured, rate).high_hz(), 24000)
        << "never above half the sample rate";
    EXPECT_EQ(Prediction(Filter(), nullptr, rate).low_hz(), 0);
}

TEST(Prediction, AZeroOfTheChainIsMinusInfinity) {
    const std::vector<Filter> chain = {section(ParametricShape::high_pass, 30, 0, 0.8)};
    EXPECT_EQ(Prediction(series(chain), nullptr, rate).level_db_at(0),
              -std::numeric_limits<double>::infinity());
}

TEST(TellingFrequencies, HoldTheEndsTheCornersAndTheRoots) {
    auto chain = some_chain();
    chain.push_back(section(ParametricShape::peak, 1234.567, 3, 5000));
    Curve curve = sloping_curve(20, 20000, 100);
    const CurveReader measured(curve);
    const auto telling = Prediction(series(chain), &measured, rate).telling_frequencies(40, 16000);
    EXPECT_TRUE(std::ranges::is_sorted(telling));
    EXPECT_EQ(telling.front(), 40);
    EXPECT_EQ(telling.back(), 16000);
    for (const double corner : curve.frequency_hz) {
        if (corner >= 40 && corner <= 16000) {
            EXPECT_TRUE(std::ranges::binary_search(telling, corner)) << corner;
        }
    }
    // The sharp peak is a quarter of a hertz wide: several points must lie within.
    EXPECT_GE(
        std::ranges::count_if(telling, [](double f) { return std::abs(f - 1234.567) < 0.25; }), 5);
    for (std::size_t i = 1; i < telling.size(); ++i) {
        EXPECT_LE(telling[i] / telling[i - 1], std::exp2(1 / 48.0) * 1.0000001)
            << "no gap wider than the grid";
    }
}

TEST(TellingFrequencies, KeepTheExtremesOfAVeryDenseCurve) {
    Curve curve;
    for (int i = 1; i <= 200'000; ++i) {
        curve.frequency_hz.push_back(i * 0.1);
        curve.magnitude_db.push_back(i == 77'777 ? -9.0 : 0.0);
    }
    const CurveReader measured(curve);
    const auto telling = Prediction(Filter(), &measured, rate).telling_frequencies(20, 20000);
    EXPECT_LT(telling.size(), 10'000u);
    EXPECT_TRUE(std::ranges::binary_search(telling, curve.frequency_hz[77'776]));
}

TEST(TellingFrequencies, ReachDownFromZero) {
    const auto telling = Prediction(Filter(), nullptr, rate).telling_frequencies(0, 1000);
    EXPECT_EQ(telling.front(), 0);
    EXPECT_LT(telling[1], 0.01);
    EXPECT_LT(telling.size(), 2000u);
}

} // namespace
} // namespace syntonon
