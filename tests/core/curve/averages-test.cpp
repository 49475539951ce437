// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/averages.h"

#include <algorithm>
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
    EXPECT_NEAR(averaged(even, AverageOf::power)->magnitude_db[0], 80 + 10 * std::log10(0.55),
                1e-12);
    const WeightedCurve three_to_one[] = {{&loud, 3}, {&quiet, 1}};
    EXPECT_NEAR(averaged(three_to_one, AverageOf::power)->magnitude_db[1],
                80 + 10 * std::log10(3.1 / 4), 1e-12);
    const WeightedCurve scaled[] = {{&loud, 0.3}, {&quiet, 0.1}};
    EXPECT_NEAR(averaged(scaled, AverageOf::power)->magnitude_db[1],
                averaged(three_to_one, AverageOf::power)->magnitude_db[1], 1e-12)
        << "only the ratio matters";
}

TEST(PowerAverage, OfEqualCurvesIsThatCurve) {
    const Curve one = curve({20, 90, 400, 20000}, {3, -250, 9000, -9000});
    const WeightedCurve all[] = {{&one, 1}, {&one, 2}, {&one, 0.5}};
    const Curve average = averaged(all, AverageOf::power).value();
    EXPECT_EQ(average.frequency_hz, one.frequency_hz);
    for (std::size_t i = 0; i < 4; ++i) {
        EXPECT_NEAR(average.magnitude_db[i], one.magnitude_db[i], 1e-10);
    }
}

TEST(PowerAverage, ReachesAsFarAsAllOfThem) {
    const Curve low = curve({20, 200, 2000}, {0, 0, 0}), high = curve({100, 300, 9000}, {0, 0, 0});
    const WeightedCurve both[] = {{&low, 1}, {&high, 1}};
    EXPECT_EQ(averaged(both, AverageOf::power)->frequency_hz,
              (std::vector<double>{100, 200, 300, 2000}));
    // One that counts for nothing does not keep the others short.
    const WeightedCurve one[] = {{&low, 1}, {&high, 0}};
    EXPECT_EQ(averaged(one, AverageOf::power)->frequency_hz, low.frequency_hz);
}

TEST(PowerAverage, OfASingleCurveKeepsItsPhase) {
    Curve one = curve({100, 200}, {1, 2});
    one.phase_deg = {10, 20};
    const WeightedCurve alone[] = {{&one, 0.25}};
    EXPECT_EQ(*averaged(alone, AverageOf::power), one);
}

TEST(PowerAverage, RefusesWhatIsNoAverage) {
    const Curve low = curve({20, 30}, {0, 0}), high = curve({100, 300}, {0, 0});
    const WeightedCurve apart[] = {{&low, 1}, {&high, 1}};
    EXPECT_EQ(averaged(apart, AverageOf::power).error().reason,
              "the curves have no frequencies in common");
    const WeightedCurve negative[] = {{&low, 1}, {&high, -1}};
    EXPECT_EQ(averaged(negative, AverageOf::power).error().place, "[1].weight");
    const WeightedCurve nothing[] = {{&low, 0}};
    EXPECT_FALSE(averaged(nothing, AverageOf::power));
    EXPECT_FALSE(averaged({}, AverageOf::power));
    const WeightedCurve endless[] = {{&low, INFINITY}, {&high, 1}};
    EXPECT_EQ(averaged(endless, AverageOf::power).error().place, "[0].weight");
}

TEST(LevelAverage, IsTheMeanInDecibels) {
    const Curve loud = curve({100, 1000}, {80, 60}), quiet = curve({100, 1000}, {20, 60});
    const WeightedCurve both[] = {{&loud, 1}, {&quiet, 3}};
    const auto average = averaged(both, AverageOf::level);
    ASSERT_TRUE(average);
    EXPECT_NEAR(average->magnitude_db[0], 35, 1e-12);
    EXPECT_NEAR(average->magnitude_db[1], 60, 1e-12);
    EXPECT_FALSE(average->has_phase());
}

// Straight wires of other lengths: with their delays taken out they agree, as they are they cancel
// where they stand half a period apart.
TEST(VectorAverage, AgreesAfterTheDelays) {
    const auto wire = [](double delay_s) {
        Curve made = curve({}, {});
        for (double hz = 20; hz <= 2000; hz += 10) {
            made.frequency_hz.push_back(hz);
            made.magnitude_db.push_back(-6);
            made.phase_deg.push_back(std::remainder(-360 * hz * delay_s, 360));
        }
        return made;
    };
    const Curve near = wire(0.005), far = wire(0.0055);
    const WeightedCurve aligned[] = {{&near, 1, 0.005}, {&far, 1, 0.0055}};
    const auto together = averaged(aligned, AverageOf::vectors);
    ASSERT_TRUE(together);
    for (std::size_t i = 0; i < together->frequency_hz.size(); ++i) {
        EXPECT_NEAR(together->magnitude_db[i], -6, 1e-9);
        EXPECT_NEAR(together->phase_deg[i], 0, 1e-7);
    }
    const WeightedCurve as_they_are[] = {{&near, 1}, {&far, 1}};
    const auto apart = averaged(as_they_are, AverageOf::vectors);
    ASSERT_TRUE(apart);
    const auto at_1000 = std::ranges::find(apart->frequency_hz, 1000.0);
    EXPECT_LT(apart->magnitude_db[std::size_t(at_1000 - apart->frequency_hz.begin())], -150);
    // Of one alone the delay goes, too.
    const WeightedCurve alone[] = {{&near, 1, 0.005}};
    EXPECT_NEAR(std::remainder(averaged(alone, AverageOf::vectors)->phase_deg[7], 360), 0, 1e-7);
}

TEST(VectorAverage, NeedsPhases) {
    Curve with = curve({100, 200}, {1, 2});
    with.phase_deg = {0, 0};
    const Curve without = curve({100, 200}, {1, 2});
    const WeightedCurve both[] = {{&with, 1}, {&without, 1}};
    EXPECT_EQ(to_text(averaged(both, AverageOf::vectors).error()),
              "[1].curve: “c” has no phase; give it no weight, or take another average");
    const WeightedCurve left_out[] = {{&with, 1}, {&without, 0}};
    EXPECT_TRUE(averaged(left_out, AverageOf::vectors));
}

} // namespace
} // namespace syntonon
