// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/gate.h"

#include "core/base/units.h"
#include "core/filter/form.h"

#include "tests/support/noise.h"
#include "tests/support/rate.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

const Filter& gated_bell() {
    static const Filter filter(Cascade{{{1.05, -1.8, 0.85, -1.8, 0.9}}});
    return filter;
}

// 0.1 s of silence, then what the filter answers.
ImpulseResponse late_answer(double begins_s = 0) {
    ImpulseResponse impulse;
    impulse.begins_at = std::lround(begins_s * rate);
    impulse.samples.assign(4800, 0.0);
    const auto answer = gated_bell().impulse_response(24'000);
    impulse.samples.insert(impulse.samples.end(), answer.begin(), answer.end());
    return impulse;
}

TEST(Gate, OpensAndClosesAsDrawn) {
    const Gate gate{-0.002, -0.001, 0.01, 0.02, {}};
    EXPECT_EQ(gate_at(gate, -0.003), 0);
    EXPECT_NEAR(gate_at(gate, -0.0015), 0.5, 1e-12);
    EXPECT_EQ(gate_at(gate, 0.005), 1);
    EXPECT_NEAR(gate_at(gate, 0.015), 0.5, 1e-12);
    EXPECT_EQ(gate_at(gate, 0.03), 0);
    // 10 ms and half of the ramps at both ends.
    EXPECT_NEAR(least_told_hz(gate), 1 / 0.0165, 1e-9);
    Gate by_cycles = gate;
    by_cycles.cycles = 4; // to 4 ms at 1 kHz, fading from 2 ms on
    EXPECT_NEAR(gate_at(by_cycles, 0.001, 1000), 1, 1e-12);
    EXPECT_NEAR(gate_at(by_cycles, 0.003, 1000), 0.5, 1e-12);
    EXPECT_EQ(gate_at(by_cycles, 0.005, 1000), 0);
    EXPECT_EQ(gate_at(by_cycles, 0.005, 100), 1);
}

TEST(Gate, AWideOneGivesTheResponse) {
    const ImpulseResponse impulse = late_answer();
    const double arrival = arrival_s(impulse);
    EXPECT_NEAR(arrival, 0.1, 1e-5);
    const auto curve = gated_response(impulse, {-0.02, -0.01, 0.3, 0.4, {}}, 0.1);
    ASSERT_TRUE(curve) << to_text(curve.error());
    ASSERT_TRUE(check(*curve));
    for (std::size_t i = 0; i < curve->frequency_hz.size(); i += 97) {
        const auto point =
            gated_bell().response_at(curve->frequency_hz[i], {rate, Domain::sampled});
        EXPECT_NEAR(curve->magnitude_db[i], point.magnitude_db, 1e-6) << curve->frequency_hz[i];
        const double apart = deg_from_rad(point.phase_rad) - curve->phase_deg[i];
        EXPECT_NEAR(std::remainder(apart, 360), 0, 1e-5) << curve->frequency_hz[i];
    }
}

// Whatever the clock calls its first sample.
TEST(Gate, CountsFromTheMiddle) {
    const Gate gate{-0.02, -0.01, 0.3, 0.4, {}};
    const auto here = gated_response(late_answer(), gate, 0.1);
    const auto there = gated_response(late_answer(-7), gate, -6.9);
    ASSERT_TRUE(here && there);
    ASSERT_EQ(here->frequency_hz.size(), there->frequency_hz.size());
    for (std::size_t i = 0; i < here->frequency_hz.size(); i += 211) {
        EXPECT_NEAR(here->magnitude_db[i], there->magnitude_db[i], 1e-9);
        EXPECT_NEAR(std::remainder(here->phase_deg[i] - there->phase_deg[i], 360), 0, 1e-4);
    }
}

// A reflection after 20 ms is a comb below the frequency whose periods reach it, none above.
TEST(Gate, ByCyclesAReflectionIsHeardOnlyLowDown) {
    ImpulseResponse impulse;
    impulse.samples.assign(9600, 0.0);
    impulse.samples[960] = 1;
    impulse.samples[960 + 960] = 0.5; // 20 ms later
    const auto curve = gated_response(impulse, {-0.01, -0.005, 0.1, 0.15, 6}, 0.02);
    ASSERT_TRUE(curve);
    double low = 0, high = 0;
    for (std::size_t i = 0; i < curve->frequency_hz.size(); ++i) {
        const double hz = curve->frequency_hz[i];
        const double level = std::abs(curve->magnitude_db[i]);
        low = hz < 100 ? std::max(low, level) : low;
        high = hz > 320 ? std::max(high, level) : high; // six periods last less than 19 ms
    }
    EXPECT_GT(low, 3);
    EXPECT_LT(high, 1e-6);
}

// Low frequencies are summed of fewer samples: it must not show.
TEST(Gate, ByCyclesEveryFrequencyIsTheSumOverItsOwnWindow) {
    ImpulseResponse impulse{48'000, noise(24'000, 3), -2000};
    for (std::size_t n = 0; n < impulse.samples.size(); ++n) {
        impulse.samples[n] *= std::exp(-static_cast<double>(n) / 4000);
    }
    const Gate gate{-0.03, -0.02, 0.3, 0.4, 4};
    const Curve made = *gated_response(impulse, gate, 0.001);
    for (std::size_t i = 0; i < made.frequency_hz.size(); i += 31) {
        const double hz = made.frequency_hz[i];
        std::complex<double> sum;
        for (std::size_t n = 0; n < impulse.samples.size(); ++n) {
            const double s = impulse.seconds_of(n) - 0.001;
            sum += impulse.samples[n] * gate_at(gate, s, hz) * std::polar(1.0, -2 * pi * hz * s);
        }
        const auto found =
            ratio_from_db(made.magnitude_db[i]) * std::polar(1.0, rad_from_deg(made.phase_deg[i]));
        EXPECT_LT(std::abs(found - sum), 1e-5 * std::abs(sum) + 2e-5) << hz;
    }
}

TEST(Gate, TheArrivalIsFoundBetweenSamples) {
    ImpulseResponse impulse;
    impulse.samples.assign(400, 0.0);
    for (std::size_t n = 0; n < impulse.samples.size(); ++n) {
        const double x = (static_cast<double>(n) - 123.3) / 6;
        impulse.samples[n] = -std::exp(-x * x);
    }
    EXPECT_NEAR(arrival_s(impulse) * rate, 123.3, 0.02);
    EXPECT_EQ(arrival_s({}), 0);
}

TEST(Gate, WhatMakesNoSenseIsRefused) {
    const auto reason = [](const Gate& gate) {
        const auto curve = gated_response(late_answer(), gate, 0.1);
        return curve ? std::string() : to_text(curve.error());
    };
    EXPECT_TRUE(reason({0.1, 0, 0.2, 0.3, {}}).starts_with("gate.full_from_s: "));
    EXPECT_TRUE(reason({0, 0, 0, 0, {}}).starts_with("gate.to_s: "));
    EXPECT_TRUE(reason({0, 0, 0.1, std::nan(""), {}}).starts_with("gate.to_s: "));
    EXPECT_TRUE(reason({0, 0, 0.1, 0.2, 0}).starts_with("gate.cycles: "));
    EXPECT_TRUE(reason({-0.09, -0.08, -0.02, -0.01, {}}).starts_with("gate: holds nothing"));
}

} // namespace
} // namespace syntonon
