// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/power_average.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

Curve curve(std::vector<double> hz, std::vector<double> db) {
    Curve made;
    made.id = made.name = "c";
    made.frequency_hz = std::move(hz);
    made.magnitude_db = std::move(db);
    return made;
}

TEST(PowerAverage, TwoLevelsWeighted) {
    const Curve loud = curve({100, 1000}, {80, 80}), quiet = curve({100, 1000}, {70, 70});
    const WeightedCurve even[] = {{&loud, 1}, {&quiet, 1}};
    // Mean of 1 and 0.1 in power: 0.55.
    EXPECT_NEAR(power_average(even)->magnitude_db[0], 80 + 10 * std::log10(0.55), 1e-12);
    const WeightedCurve three_to_one[] = {{&loud, 3}, {&quiet, 1}};
    EXPECT_NEAR(power_average(three_to_one)->magnitude_db[1], 80 + 10 * std::log10(3.1 / 4), 1e-12);
    const WeightedCurve scaled[] = {{&loud, 0.3}, {&quiet, 0.1}};
    EXPECT_NEAR(power_average(scaled)->magnitude_db[1],
                power_average(three_to_one)->magnitude_db[1], 1e-12)
        << "only the ratio matters";
}

TEST(PowerAverage, OfEqualCurvesIsThatCurve) {
    const Curve one = curve({20, 90, 400, 20000}, {3, -250, 9000, -9000});
    const WeightedCurve all[] = {{&one, 1}, {&one, 2}, {&one, 0.5}};
    const Curve average = power_average(all).value();
    EXPECT_EQ(average.frequency_hz, one.frequency_hz);
    for (std::size_t i = 0; i < 4; ++i) {
        EXPECT_NEAR(average.magnitude_db[i], one.magnitude_db[i], 1e-10);
    }
}

TEST(PowerAverage, ReachesAsFarAsAllOfThem) {
    const Curve low = curve({20, 200, 2000}, {0, 0, 0}), high = curve({100, 300, 9000}, {0, 0, 0});
    const WeightedCurve both[] = {{&low, 1}, {&high, 1}};
    EXPECT_EQ(power_average(both)->frequency_hz, (std::vector<double>{100, 200, 300, 2000}));
    // One that counts for nothing does not keep the others short.
    const WeightedCurve one[] = {{&low, 1}, {&high, 0}};
    EXPECT_EQ(power_average(one)->frequency_hz, low.frequency_hz);
}

TEST(PowerAverage, OfASingleCurveKeepsItsPhase) {
    Curve one = curve({100, 200}, {1, 2});
    one.phase_deg = {10, 20};
    const WeightedCurve alone[] = {{&one, 0.25}};
    EXPECT_EQ(*power_average(alone), one);
}

TEST(PowerAverage, RefusesWhatIsNoAverage) {
    const Curve low = curve({20, 30}, {0, 0}), high = curve({100, 300}, {0, 0});
    const WeightedCurve apart[] = {{&low, 1}, {&high, 1}};
    EXPECT_EQ(power_average(apart).error().reason, "the curves have no frequencies in common");
    const WeightedCurve negative[] = {{&low, 1}, {&high, -1}};
    EXPECT_EQ(power_average(negative).error().place, "[1].weight");
    const WeightedCurve nothing[] = {{&low, 0}};
    EXPECT_FALSE(power_average(nothing));
    EXPECT_FALSE(power_average({}));
    const WeightedCurve endless[] = {{&low, INFINITY}, {&high, 1}};
    EXPECT_EQ(power_average(endless).error().place, "[0].weight");
}

} // namespace
} // namespace syntonon
