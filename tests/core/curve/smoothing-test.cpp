// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/smoothing.h"

#include "core/base/units.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

Curve curve(std::vector<double> hz, std::vector<double> db) {
    Curve made;
    made.frequency_hz = std::move(hz);
    made.magnitude_db = std::move(db);
    return made;
}

TEST(Smoothing, LeavesALevelCurveAlone) {
    const Curve flat = smoothed(curve({20, 100, 20000}, {3, 3, 3}), 1.0 / 3, 12);
    ASSERT_TRUE(check(flat));
    EXPECT_EQ(flat.low_hz(), 20);
    EXPECT_EQ(flat.high_hz(), 20000);
    for (const double level : flat.magnitude_db) {
        EXPECT_NEAR(level, 3, 1e-12);
    }
}

TEST(Smoothing, AveragesThePowerOfASlope) {
    // 10 log10 of the mean of 10^(s x/10) over an octave, in closed form.
    const double s = 6; // dB an octave
    const Curve slope = curve({125, 8000}, {0, 6 * s});
    const Curve smooth = smoothed(slope, 1, 24);
    const CurveReader reader(smooth);
    const double k = s * std::log(10.0) / 10;
    const double expected = 3 * s + 10 * std::log10((std::exp(k / 2) - std::exp(-k / 2)) / k);
    EXPECT_NEAR(reader.magnitude_db_at(1000), expected, 1e-9);
}

TEST(Smoothing, ANarrowDipIsNoLongerDeep) {
    const Curve dip = curve({20, 990, 1000, 1010, 20000}, {0, 0, -40, 0, 0});
    const CurveReader smooth(smoothed(dip, 1.0 / 3, 96));
    EXPECT_GT(smooth.magnitude_db_at(1000), -0.5);
    EXPECT_LT(smooth.magnitude_db_at(1000), -0.1);
    EXPECT_NEAR(smooth.magnitude_db_at(1000 * std::exp2(0.2)), 0, 1e-9) << "outside the window";
}

TEST(Smoothing, AQuietRangeBesideALoudOneKeepsItsLevel) {
    // 300 dB apart: in a sum of both the quiet one's power would be lost.
    const Curve cliff = curve({20, 100, 101, 20000}, {100, 100, -200, -200});
    const CurveReader smooth(smoothed(cliff, 1.0 / 3, 12));
    EXPECT_NEAR(smooth.magnitude_db_at(1000), -200, 1e-9);
    EXPECT_NEAR(smooth.magnitude_db_at(40), 100, 1e-9);
    const Curve far = smoothed(curve({20, 20000}, {-9000, 9000}), 1.0 / 3, 6);
    EXPECT_TRUE(check(far));
}

TEST(Smoothing, AWidthTooSmallToBeOneOnlySamples) {
    const Curve line = smoothed(curve({100, 1600}, {0, 8}), 1e-17, 1);
    EXPECT_NEAR(line.magnitude_db[2], 4, 1e-12);
}

TEST(Smoothing, WithoutWidthItOnlySamples) {
    const Curve line = curve({100, 1600}, {0, 8});
    const Curve sampled = smoothed(line, 0, 1);
    ASSERT_EQ(sampled.frequency_hz.size(), 5u);
    EXPECT_NEAR(sampled.magnitude_db[2], 4, 1e-12);
    const Curve single = smoothed(curve({100}, {5}), 1, 12);
    EXPECT_EQ(single.magnitude_db, std::vector<double>{5});
}

} // namespace
} // namespace syntonon
