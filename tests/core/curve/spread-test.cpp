// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/spread.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

CurveReader line(double from_hz, double to_hz, double from_db, double to_db) {
    Curve curve;
    curve.frequency_hz = {from_hz, to_hz};
    curve.magnitude_db = {from_db, to_db};
    return CurveReader(curve);
}

TEST(Spread, GoesFromTheLowestToTheHighestWhereAllReach) {
    const CurveReader rising = line(50, 6400, 0, 7), level = line(100, 12'800, 3, 3);
    const CurveReader* curves[] = {&rising, &level};
    const Spread spread = spread_of(curves, 1);
    ASSERT_EQ(spread.frequency_hz.size(), 7u);
    EXPECT_NEAR(spread.frequency_hz.front(), 100, 1e-9);
    EXPECT_NEAR(spread.frequency_hz.back(), 6400, 1e-6);
    EXPECT_NEAR(spread.lowest_db.front(), 1, 1e-9);
    EXPECT_NEAR(spread.highest_db.front(), 3, 1e-9);
    EXPECT_NEAR(spread.lowest_db.back(), 3, 1e-9);
    EXPECT_NEAR(spread.highest_db.back(), 7, 1e-9);
}

TEST(Spread, IsEmptyWhereNothingIsShared) {
    const CurveReader low = line(10, 20, 0, 0), high = line(100, 200, 0, 0);
    const CurveReader* curves[] = {&low, &high};
    EXPECT_TRUE(spread_of(curves, 12).frequency_hz.empty());
    EXPECT_TRUE(spread_of({}, 12).frequency_hz.empty());
}

} // namespace
} // namespace syntonon
