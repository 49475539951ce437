// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/curve_delay.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

double wrapped(double deg) {
    return deg - 360 * std::round(deg / 360);
}

Curve curve_with(double (*phase_deg)(double hz), double ratio, int count) {
    Curve curve;
    double hz = 20;
    for (int i = 0; i < count; ++i, hz *= ratio) {
        curve.frequency_hz.push_back(hz);
        curve.magnitude_db.push_back(0);
        curve.phase_deg.push_back(wrapped(phase_deg(hz)));
    }
    return curve;
}

TEST(CurveDelay, APureDelayIsTheSameEverywhere) {
    // 3 ms: up to 20 kHz the phase turns 60 times, at most a third of a turn a step.
    const Curve curve =
        curve_with([](double hz) { return -360 * hz * 0.003; }, std::pow(1000.0, 1.0 / 2000), 2001);
    for (const double s : group_delay_s(curve)) {
        EXPECT_NEAR(s, 0.003, 1e-9);
    }
}

TEST(CurveDelay, IsExactWhereThePhaseIsAParabola) {
    // phase = -(a f + b f^2) turns, so the delay is a + 2 b f, at the ends too.
    const Curve curve =
        curve_with([](double hz) { return -360 * (0.001 * hz + 2e-7 * hz * hz); }, 1.02, 150);
    const auto delay = group_delay_s(curve);
    ASSERT_EQ(delay.size(), curve.frequency_hz.size());
    for (std::size_t i = 0; i < delay.size(); ++i) {
        EXPECT_NEAR(delay[i], 0.001 + 4e-7 * curve.frequency_hz[i], 1e-12);
    }
}

TEST(CurveDelay, NeedsPhaseAndTwoPoints) {
    Curve curve;
    curve.frequency_hz = {100};
    curve.magnitude_db = {0};
    EXPECT_TRUE(group_delay_s(curve).empty());
    curve.phase_deg = {10};
    EXPECT_TRUE(group_delay_s(curve).empty());
    curve.frequency_hz = {100, 200};
    curve.magnitude_db = {0, 0};
    curve.phase_deg = {0, -90};
    EXPECT_NEAR(group_delay_s(curve).at(1), 0.0025, 1e-15);
}

} // namespace
} // namespace syntonon
