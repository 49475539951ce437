// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/decay.h"

#include "tests/support/noise.h"
#include "tests/support/rate.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

// Noise that loses 60 dB in so many seconds, over noise that stays.
ImpulseResponse room(double decay_s, double length_s, double noise_db, unsigned seed) {
    ImpulseResponse impulse;
    const auto count = static_cast<std::size_t>(length_s * rate);
    impulse.samples = noise(count, seed);
    const auto floor = noise(count, seed + 1);
    const double still = std::pow(10, noise_db / 20);
    for (std::size_t n = 0; n < count; ++n) {
        impulse.samples[n] *= std::pow(10, -3 * static_cast<double>(n) / (decay_s * rate));
        impulse.samples[n] += still * floor[n];
    }
    impulse.samples[0] = 2; // it arrives
    return impulse;
}

TEST(Decay, OfAnEvenDecayIsItsTime) {
    for (const double decay_s : {0.3, 0.8, 2.0}) {
        const DecayCurve curve = decay_of(room(decay_s, 3 * decay_s, -200, 1));
        for (const auto& [from_db, to_db] :
             {std::pair(-1, -11), std::pair(-5, -25), std::pair(-5, -35)}) {
            const auto time = decay_time_s(curve, from_db, to_db);
            ASSERT_TRUE(time);
            EXPECT_NEAR(*time / decay_s, 1, 0.01) << decay_s << " " << to_db;
        }
        EXPECT_EQ(curve.level_db.front(), 0);
        EXPECT_TRUE(std::is_sorted(curve.level_db.rbegin(), curve.level_db.rend()));
    }
}

// Without care the level would end 10 dB above and the time be many percent too long.
TEST(Decay, NoiseDoesNotBendIt) {
    for (const unsigned seed : {1U, 5U, 9U}) {
        const DecayCurve curve = decay_of(room(0.8, 2.5, -45, seed));
        EXPECT_NEAR(curve.noise_db, -45, 1.5);
        const auto t20 = decay_time_s(curve, -5, -25), t30 = decay_time_s(curve, -5, -35);
        ASSERT_TRUE(t20 && t30);
        EXPECT_NEAR(*t20 / 0.8, 1, 0.015) << seed;
        EXPECT_NEAR(*t30 / 0.8, 1, 0.02) << seed;
    }
}

TEST(Decay, WhatIsNotReachedIsNotSaid) {
    const DecayCurve curve = decay_of(room(0.8, 2.5, -20, 3));
    EXPECT_FALSE(decay_time_s(curve, -5, -65));
    EXPECT_TRUE(decay_of({rate, std::vector<double>(4800, 0.0), 0}).level_db.empty());
    EXPECT_TRUE(decay_of({}).level_db.empty());
    EXPECT_FALSE(decay_time_s({}, -5, -25));
}

// An exponential in a single tone: the band about it tells its time, and no other holds it.
TEST(Decay, OctavesAreToldApart) {
    ImpulseResponse impulse;
    impulse.samples.resize(static_cast<std::size_t>(3 * rate));
    const auto add = [&](double hz, double decay_s) {
        for (std::size_t n = 0; n < impulse.samples.size(); ++n) {
            const double t = static_cast<double>(n) / rate;
            impulse.samples[n] += std::pow(10, -3 * t / decay_s) * std::cos(2 * M_PI * hz * t);
        }
    };
    add(125, 1.2);
    add(1000, 0.6);
    add(8000, 0.3);
    const auto times = decay_times(impulse);
    ASSERT_EQ(times.size(), 10U);
    EXPECT_EQ(times[0].centre_hz, 0);
    const auto t20_at = [&](double hz) {
        const auto found = std::ranges::find(times, hz, &DecayTimes::centre_hz);
        return found->t20_s.value_or(0);
    };
    EXPECT_NEAR(t20_at(125), 1.2, 0.012);
    EXPECT_NEAR(t20_at(1000), 0.6, 0.006);
    EXPECT_NEAR(t20_at(8000), 0.3, 0.003);
}

} // namespace
} // namespace syntonon
