// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/energy.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

// 0.1 s of silence and then an exponential decay of that time for 60 dB, with even magnitude.
ImpulseResponse decay(double time_s) {
    ImpulseResponse impulse{48'000, std::vector<double>(4800 + 96'000), 0};
    for (std::size_t n = 0; n < 96'000; ++n) {
        const double s = static_cast<double>(n) / 48'000;
        impulse.samples[4800 + n] = (n % 2 == 0 ? 1 : -1) * std::pow(10, -3 * s / time_s);
    }
    return impulse;
}

// C = 10 lg(e^(13.8 t / T) - 1), D = 1 - e^(-13.8 t / T), centre = T / 13.8 (H. Kuttruff, Room
// Acoustics, 7.4).
TEST(Energy, EarlyAndLateOfAnExponentialDecayAreTheClosedForms) {
    const EarlyAndLate found = early_and_late(decay(0.8));
    const double rate = 6 * std::log(10.0) / 0.8;
    EXPECT_NEAR(found.clarity_50_db, 10 * std::log10(std::exp(rate * 0.05) - 1), 0.01);
    EXPECT_NEAR(found.clarity_80_db, 10 * std::log10(std::exp(rate * 0.08) - 1), 0.01);
    EXPECT_NEAR(found.definition, 1 - std::exp(-rate * 0.05), 1e-3);
    EXPECT_NEAR(found.centre_s, 1 / rate, 3e-5);
}

TEST(Energy, OverTimeItFallsAsTheDecayDoes) {
    const EnergyOverTime found = energy_over_time(decay(0.5), 0.005, 2101);
    ASSERT_EQ(found.level_db.size(), 2101u);
    const auto at = [&](double s) {
        return found
            .level_db[static_cast<std::size_t>(std::lround((s - found.from_s) / found.step_s))];
    };
    EXPECT_EQ(at(0.05), -120);
    EXPECT_NEAR(at(0.3) - at(0.2), -12, 0.05);
    EXPECT_NEAR(at(0.7) - at(0.2), -60, 0.1);
}

TEST(Energy, OfSilenceThereIsNothingToSay) {
    EXPECT_EQ(early_and_late({48'000, std::vector<double>(100), 0}).definition, 0);
    EXPECT_TRUE(energy_over_time({}, 0.001, 10).level_db.empty());
}

} // namespace
} // namespace syntonon
