// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/target_curve.h"

#include "core/goal/target.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

TargetLine line(std::vector<TargetPoint> points, Between between = Between::log_frequency) {
    TargetLine made;
    made.points = std::move(points);
    made.between = between;
    return made;
}

TEST(TargetCurve, IsStraightBetweenItsPointsAndLevelBeyond) {
    EXPECT_EQ(TargetCurve().value_at(100), 0);
    EXPECT_EQ(TargetCurve(TargetLine{}, 2.5).value_at(100), 2.5);
    const TargetCurve log(line({{100, 0, {}}, {10000, 6, {}}}));
    EXPECT_NEAR(*log.value_at(1000), 3, 1e-12);
    EXPECT_EQ(log.value_at(10), 0);
    EXPECT_EQ(log.value_at(20000), 6);
    const TargetCurve linear(line({{100, 0, {}}, {10000, 6, {}}}, Between::linear_frequency));
    EXPECT_NEAR(*linear.value_at(5050), 3, 1e-12);
}

TEST(TargetCurve, EachLineHasItsOwnAxis) {
    const TargetCurve mixed(line(
        {{100, 0, Between::linear_frequency}, {300, 2, Between::log_frequency}, {1200, 4, {}}}));
    EXPECT_NEAR(*mixed.value_at(200), 1, 1e-12);
    EXPECT_NEAR(*mixed.value_at(600), 3, 1e-12);
}

TEST(TargetCurve, GapsAndOpenEndsAreNotGiven) {
    TargetLine open = line({{100, 1, {}}, {200, 1, Between::gap}, {400, 5, {}}, {800, 5, {}}});
    EXPECT_EQ(TargetCurve(open).value_at(50), 1);
    open.open_ends = true;
    const TargetCurve curve(open);
    for (const double hz : {50.0, 300.0, 900.0}) {
        EXPECT_EQ(curve.value_at(hz), std::nullopt) << hz;
    }
    EXPECT_EQ(curve.value_at(150), 1);
    EXPECT_EQ(curve.value_at(600), 5);
    const auto parts = curve.parts(10, 20000);
    ASSERT_EQ(parts.size(), 2u);
    EXPECT_EQ(parts[0].from_hz, 100);
    EXPECT_EQ(parts[0].to_hz, 200);
    EXPECT_EQ(parts[1].from_hz, 400);
    EXPECT_TRUE(curve.parts(210, 390).empty());
}

TEST(TargetCurve, AJumpHasTwoValuesAndPartsTheCurve) {
    const TargetCurve jump(line({{100, 0, {}}, {1000, 0, {}}, {1000, -40, {}}, {2000, -40, {}}}));
    EXPECT_EQ(jump.value_at(999.9), 0);
    EXPECT_EQ(jump.value_at(1000), -40) << "the value after it";
    const auto parts = jump.parts(100, 2000);
    ASSERT_EQ(parts.size(), 2u);
    EXPECT_EQ(jump.value_in(parts[0], 1000), 0);
    EXPECT_EQ(jump.value_in(parts[1], 1000), -40);
}

TEST(TargetCurve, CornersLieInsideAPart) {
    const TargetCurve curve(line({{100, 0, {}}, {200, 3, {}}, {400, 1, {}}}));
    const auto parts = curve.parts(50, 300);
    ASSERT_EQ(parts.size(), 1u);
    EXPECT_EQ(parts[0].corners_hz, (std::vector<double>{100, 200}));
    EXPECT_EQ(parts[0].from_hz, 50);
    EXPECT_EQ(parts[0].to_hz, 300);
    EXPECT_NEAR(curve.value_in(parts[0], 200 * std::sqrt(2)), 2, 1e-12);
}

TEST(TargetCurve, ACurvesEndsAreOpen) {
    Curve curve;
    curve.frequency_hz = {100, 400};
    curve.magnitude_db = {60, 66};
    const TargetCurve target(curve, -60);
    EXPECT_NEAR(*target.value_at(200), 3, 1e-12);
    EXPECT_EQ(target.value_at(99), std::nullopt);
    EXPECT_EQ(target.value_at(401), std::nullopt);
}

TEST(HouseCurve, RisesAndFallsByTheOctaveUpToItsLimits) {
    HouseCurve house;
    house.level_db = 1;
    house.rise_below_hz = 200, house.rise_db_per_octave = 2, house.low_limit_hz = 50;
    house.fall_above_hz = 1000, house.fall_db_per_octave = 1.5, house.high_limit_hz = 8000;
    const TargetCurve curve(line_of(house));
    EXPECT_NEAR(*curve.value_at(500), 1, 1e-12);
    EXPECT_NEAR(*curve.value_at(100), 3, 1e-12);
    EXPECT_NEAR(*curve.value_at(50), 5, 1e-12);
    EXPECT_NEAR(*curve.value_at(20), 5, 1e-12) << "level beyond the limit";
    EXPECT_NEAR(*curve.value_at(4000), -2, 1e-12);
    EXPECT_NEAR(*curve.value_at(16000), -3.5, 1e-12);
    house.rise_below_hz = house.low_limit_hz; // no rise at all: fewer corners, no repeated point
    EXPECT_EQ(line_of(house).points.size(), 3u);
    EXPECT_TRUE(check(line_of(house), "magnitude_db"));
}

TEST(Target, RefusesWhatIsStatedWronglyOrTwice) {
    const auto place = [](const Target& target) {
        const auto ok = check(target);
        return ok ? std::string("fine") : ok.error().place;
    };
    Target target;
    EXPECT_EQ(place(target), "fine");
    target.points = {{100, 0, {}}, {100, 3, {}}};
    EXPECT_EQ(place(target), "fine") << "a jump";
    target.points.push_back({100, 5, {}});
    EXPECT_EQ(place(target), "points[2].frequency_hz");
    target.points = {{100, 0, {}}, {90, 3, {}}};
    EXPECT_EQ(place(target), "points[1].frequency_hz");
    target.points = {{0, 0, {}}};
    EXPECT_EQ(place(target), "points[0].frequency_hz");
    target.points = {{100, 0, {}}};
    target.house = HouseCurve{};
    EXPECT_EQ(place(target), "") << "points and a house curve";
    target.points.clear();
    EXPECT_EQ(place(target), "fine");
    target.house->fall_above_hz = 100;
    EXPECT_EQ(place(target), "house.fall_above_hz");
    target.house.reset();
    target.source = TargetSource{};
    target.source->smoothing_oct = -1;
    EXPECT_EQ(place(target), "source.smoothing_oct");
    target.source.reset();
    target.anchor = {LevelAnchor::Kind::measured_average, 0, 500, 500, {}};
    EXPECT_EQ(place(target), "anchor.to_hz");
    target.anchor.offset_db = NAN;
    EXPECT_EQ(place(target), "anchor.offset_db");
}

} // namespace
} // namespace syntonon
