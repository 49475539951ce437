// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/curve.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

Curve make(std::vector<double> hz, std::vector<double> db, std::vector<double> deg = {}) {
    Curve curve;
    curve.frequency_hz = std::move(hz);
    curve.magnitude_db = std::move(db);
    curve.phase_deg = std::move(deg);
    return curve;
}

TEST(Curve, IsStraightInDecibelsOverLogFrequency) {
    const CurveReader reader(make({100, 1000, 10000}, {0, 6, -6}));
    EXPECT_DOUBLE_EQ(reader.magnitude_db_at(100), 0);
    EXPECT_NEAR(reader.magnitude_db_at(std::sqrt(100.0 * 1000.0)), 3, 1e-12);
    EXPECT_NEAR(reader.magnitude_db_at(std::sqrt(1000.0 * 10000.0)), 0, 1e-12);
    EXPECT_DOUBLE_EQ(reader.magnitude_db_at(10), 0);
    EXPECT_DOUBLE_EQ(reader.magnitude_db_at(20000), -6);
    EXPECT_FALSE(reader.covers(20000));
}

TEST(Curve, InterpolatesPhaseAcrossTheWrap) {
    const CurveReader reader(make({100, 200}, {0, 0}, {170, -170}));
    EXPECT_NEAR(reader.phase_deg_at(std::sqrt(100.0 * 200.0)), 180, 1e-12);
    EXPECT_EQ(CurveReader(make({100}, {0})).phase_deg_at(50), 0);
}

TEST(Curve, MeanLevelIsTheAreaOverLogFrequency) {
    const Curve ramp = make({100, 1000}, {0, 6});
    EXPECT_NEAR(mean_level_db(ramp, 100, 1000).value(), 3, 1e-12);
    EXPECT_NEAR(mean_level_db(ramp, 1, 100000).value(), 3, 1e-12) << "only where the curve is";
    const Curve steps = make({100, 200, 400, 800}, {1, 1, 3, 3});
    EXPECT_NEAR(mean_level_db(steps, 100, 800).value(), 2, 1e-12);
    EXPECT_FALSE(mean_level_db(ramp, 2000, 4000));
}

TEST(Curve, RefusesWhatIsNoCurve) {
    EXPECT_EQ(check(make({}, {})).error().place, "frequency_hz");
    EXPECT_EQ(check(make({1, 2}, {1})).error().place, "magnitude_db");
    EXPECT_EQ(check(make({1, 2}, {1, 2}, {1})).error().place, "phase_deg");
    EXPECT_EQ(check(make({1, 1}, {1, 2})).error().place, "frequency_hz[1]");
    EXPECT_EQ(check(make({0, 1}, {1, 2})).error().place, "frequency_hz[0]");
    EXPECT_EQ(check(make({1, NAN}, {1, 2})).error().place, "frequency_hz[1]");
    EXPECT_EQ(check(make({1, 2}, {1, INFINITY})).error().place, "magnitude_db[1]");
    EXPECT_TRUE(check(make({1, 2}, {1, 2}, {0, 0})));
}

} // namespace
} // namespace syntonon
