// Curves that are worked out from impulse responses, and what a microphone adds taken out.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/worked_out.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

namespace syntonon {
namespace {

// A unit impulse of height 2 at sample 100, and an echo of half of it 480 samples later.
Measurement echo() {
    Measurement measured;
    measured.impulse = {48'000, std::vector<double>(2000), 0};
    measured.impulse.samples[100] = 2;
    measured.impulse.samples[580] = 1;
    return measured;
}

Curve curve_of(Measurement measured) {
    Curve curve;
    curve.origin = CurveOrigin{std::move(measured), "", "", {}};
    return curve;
}

TEST(WorkedOut, AllOfAnImpulseResponseIsItsTransform) {
    const Curve made = *worked_out(curve_of(echo()), nullptr, nullptr);
    EXPECT_NEAR(made.delay_s, 100.0 / 48'000, 1e-12);
    ASSERT_GT(made.frequency_hz.size(), 900u);
    for (std::size_t i = 0; i < made.frequency_hz.size(); i += 37) {
        const double angle = 2 * std::numbers::pi * made.frequency_hz[i] * 0.01;
        const auto told = 2.0 + std::polar(1.0, -angle);
        EXPECT_NEAR(made.magnitude_db[i], 20 * std::log10(std::abs(told)), 1e-9);
        EXPECT_NEAR(std::remainder(made.phase_deg[i] * std::numbers::pi / 180 - std::arg(told),
                                   2 * std::numbers::pi),
                    0, 1e-9);
    }
}

TEST(WorkedOut, AGateThatEndsBeforeTheEchoLeavesItOut) {
    const Gate gate{-0.001, -0.0005, 0.005, 0.008, {}};
    const Curve made = *worked_out(curve_of(echo()), &gate, nullptr);
    for (std::size_t i = 0; i < made.frequency_hz.size(); ++i) {
        EXPECT_NEAR(made.magnitude_db[i], 20 * std::log10(2.0), 1e-9);
        EXPECT_NEAR(made.phase_deg[i], 0, 1e-9);
    }
    EXPECT_GT(made.low_hz(), 100);
}

TEST(WorkedOut, AMiddleGivenByHandIsTimeZeroAndTheDelay) {
    Curve curve = curve_of(echo());
    curve.origin->middle_s = 99.0 / 48'000;
    const Gate gate{-0.001, -0.0005, 0.005, 0.008, {}};
    const Curve made = *worked_out(curve, &gate, nullptr);
    EXPECT_EQ(made.delay_s, 99.0 / 48'000);
    const double hz = made.frequency_hz[20];
    EXPECT_NEAR(made.phase_deg[20], -360 * hz / 48'000, 1e-9);
}

TEST(WorkedOut, WhatAMicrophoneAddsIsTakenOutOfLevelAndPhase) {
    Curve microphone;
    microphone.frequency_hz = {100, 10'000};
    microphone.magnitude_db = {1, 3};
    microphone.phase_deg = {0, -40};
    Measurement response;
    response.frequency_hz = {10, 1000, 20'000};
    response.magnitude_db = {70, 70, 70};
    response.phase_deg = {5, 5, 5};
    const Curve made = *worked_out(curve_of(response), nullptr, &microphone);
    EXPECT_NEAR(made.magnitude_db[0], 69, 1e-12); // as at its low end
    EXPECT_NEAR(made.magnitude_db[1], 68, 1e-12); // halfway in octaves
    EXPECT_NEAR(made.phase_deg[1], 25, 1e-12);
    EXPECT_NEAR(made.phase_deg[2], 45, 1e-12);
    EXPECT_EQ(made.delay_s, 0);
}

TEST(WorkedOut, SilenceInTheGateIsRefusedByName) {
    const Gate gate{0.002, 0.003, 0.004, 0.005, {}};
    const auto refused = worked_out(curve_of(echo()), &gate, nullptr);
    ASSERT_FALSE(refused.has_value());
    EXPECT_EQ(refused.error().place, "gate");
}

TEST(WorkedOut, WithoutAnOriginOrWithoutItsFileItStays) {
    Curve curve;
    curve.frequency_hz = {1000};
    curve.magnitude_db = {3};
    EXPECT_EQ(*worked_out(curve, nullptr, nullptr), curve);
    Measurement away;
    away.file.path = "gone.wav";
    curve.origin = CurveOrigin{away, "", "", {}};
    EXPECT_EQ(*worked_out(curve, nullptr, nullptr), curve);
}

TEST(WorkedOut, ThinnedKeepsBothEndsAndChangesNoPoint) {
    const Curve made = *worked_out(curve_of(echo()), nullptr, nullptr);
    const Curve thin = thinned(made, 12);
    EXPECT_LT(thin.frequency_hz.size(), 12 * 10 + 2u);
    EXPECT_EQ(thin.low_hz(), made.low_hz());
    EXPECT_EQ(thin.high_hz(), made.high_hz());
    const CurveReader reader(made);
    for (std::size_t i = 0; i < thin.frequency_hz.size(); ++i) {
        EXPECT_EQ(thin.magnitude_db[i], reader.magnitude_db_at(thin.frequency_hz[i]));
    }
}

} // namespace
} // namespace syntonon
