// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/curve_setting.h"

#include "core/filter/biquad.h"
#include "core/filter/taps.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numeric>

namespace syntonon::oca {
namespace {

constexpr double rate_hz = 48000;

ResponsePoint of_taps(const std::vector<double>& taps, double hz) {
    return Filter(Taps(taps)).response_at(hz, Axis(rate_hz));
}

TEST(CurveOfAFilter, HasItsLevelAndPhaseAtEveryPoint) {
    Cascade cascade;
    cascade.sections = {{0.2, 0.1, 0, -0.7, 0}};
    const Filter filter(cascade);
    const auto curve = curve_of(filter, rate_hz, 64);
    ASSERT_TRUE(curve);
    ASSERT_EQ(curve->frequency_hz.size(), 64u);
    EXPECT_FLOAT_EQ(curve->frequency_hz.front(), 10);
    EXPECT_FLOAT_EQ(curve->frequency_hz.back(), 0.499f * 48000);
    for (std::size_t i = 0; i < 64; i += 9) {
        const auto wanted = filter.response_at(curve->frequency_hz[i], Axis(rate_hz));
        EXPECT_NEAR(20 * std::log10(curve->amplitude[i]), wanted.magnitude_db, 1e-4);
        EXPECT_NEAR(curve->phase_rad[i], wanted.phase_rad, 1e-4);
    }
    EXPECT_FALSE(curve_of(filter, rate_hz, 1));
}

TEST(TapsOfACurve, AFlatOneIsOneTapInTheMiddle) {
    const auto taps = taps_of({{100, 1000}, {0.5f, 0.5f}, {0, 0}}, rate_hz);
    ASSERT_EQ(taps.size(), curve_taps);
    EXPECT_NEAR(taps[curve_taps / 2], 0.5, 1e-12);
    EXPECT_NEAR(std::accumulate(taps.begin(), taps.end(), 0.0,
                                [](double sum, double tap) { return sum + std::abs(tap); }),
                0.5, 1e-9);
}

// A phase that falls in proportion to the frequency is a delay.
TEST(TapsOfACurve, AStraightPhaseIsADelay) {
    const double samples = 100;
    const auto phase = static_cast<float>(-2 * M_PI * 24000 / rate_hz * samples);
    const auto taps = taps_of({{24000}, {1}, {phase}}, rate_hz);
    EXPECT_NEAR(taps[curve_taps / 2 + 100], 1, 1e-3);
}

TEST(TapsOfACurve, FollowAFiltersCurve) {
    Cascade cascade;
    cascade.sections = {{0.2, 0.1, 0, -0.7, 0}};
    const Filter filter(cascade);
    const auto taps = taps_of(*curve_of(filter, rate_hz, 1024), rate_hz);
    for (const double hz : {200.0, 1000.0, 5000.0, 12000.0}) {
        const auto wanted = filter.response_at(hz, Axis(rate_hz)), made = of_taps(taps, hz);
        EXPECT_NEAR(made.magnitude_db, wanted.magnitude_db, 0.01) << hz;
        EXPECT_NEAR(made.group_delay_samples - curve_taps / 2, wanted.group_delay_samples, 0.2)
            << hz;
    }
}

} // namespace
} // namespace syntonon::oca
