// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/rate_bridge.h"

#include "core/base/units.h"
#include "tests/support/forbidden_memory.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

// A sine at the first rate, of full scale.
RateBridge::Fill sine(double hz, double rate_hz, std::size_t& n) {
    return [=, &n](std::span<double> block) {
        for (double& sample : block) {
            sample = std::sin(2 * pi * hz / rate_hz * static_cast<double>(n++));
        }
    };
}

// What is left of samples in dB when the sine of that frequency, whatever its phase, is taken
// away; and how loud that is.
struct Fit {
    double level_db, rest_db;
};
Fit fit_of(const std::vector<double>& samples, double hz, double rate_hz) {
    double c = 0, s = 0;
    const auto count = static_cast<double>(samples.size());
    const double step = 2 * pi * hz / rate_hz;
    for (std::size_t n = 0; n < samples.size(); ++n) {
        c += 2 / count * samples[n] * std::cos(step * static_cast<double>(n));
        s += 2 / count * samples[n] * std::sin(step * static_cast<double>(n));
    }
    double rest = 0;
    for (std::size_t n = 0; n < samples.size(); ++n) {
        const double fitted = c * std::cos(step * static_cast<double>(n))
                              + s * std::sin(step * static_cast<double>(n));
        rest += 2 / count * (samples[n] - fitted) * (samples[n] - fitted);
    }
    return {db_from_power(c * c + s * s), db_from_power(rest)};
}

TEST(RateBridge, ASineStaysThatSine) {
    for (const auto& [from, to] : {std::pair(37'500.0, 48'000.0), std::pair(192'000.0, 44'100.0),
                                   std::pair(8'000.0, 96'000.0)}) {
        std::size_t rendered = 0;
        const auto bridge = RateBridge::between(from, to, sine(1000, from, rendered));
        ASSERT_TRUE(bridge);
        std::vector<double> out(static_cast<std::size_t>(to / 100)); // whole periods
        for (int blocks = 0; blocks < 20; ++blocks) {
            (*bridge)->fill(out);
        }
        const Fit fit = fit_of(out, 1000, to);
        EXPECT_NEAR(fit.level_db, 0, 0.01) << from;
        EXPECT_LT(fit.rest_db, -90) << from;
        // As much is asked for as is played, but for what the conversion looks ahead.
        EXPECT_NEAR(static_cast<double>(rendered) / from, 0.2, 0.05);
    }
}

TEST(RateBridge, WhatTheLowerRateCannotHoldIsLeftOut) {
    std::size_t rendered = 0;
    const auto bridge = RateBridge::between(96'000, 32'000, sine(20'000, 96'000, rendered));
    ASSERT_TRUE(bridge);
    std::vector<double> out(3200);
    (*bridge)->fill(out);
    (*bridge)->fill(out);
    for (const double sample : out) {
        EXPECT_LT(std::abs(sample), 1e-4);
    }
}

TEST(RateBridge, AsksForNoMemoryWhileItPlays) {
    std::size_t rendered = 0;
    const auto bridge = RateBridge::between(44'100, 48'000, sine(440, 44'100, rendered));
    ASSERT_TRUE(bridge);
    std::vector<double> out(777);
    test::memory_is_forbidden = true;
    for (int i = 0; i < 50; ++i) {
        (*bridge)->fill(out);
    }
    test::memory_is_forbidden = false;
    EXPECT_GT(rendered, 30'000U);
}

TEST(RateBridge, RatesThatAreTooFarApartAreRefused) {
    const auto bridge = RateBridge::between(1, 48'000, [](std::span<double>) {});
    ASSERT_FALSE(bridge);
    EXPECT_EQ(to_text(bridge.error()),
              "sound: 1 Hz cannot be played at 48000 Hz; choose another rate");
}

} // namespace
} // namespace syntonon
