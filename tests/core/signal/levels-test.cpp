// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/levels.h"

#include "core/base/units.h"
#include "core/signal/make_signal.h"
#include "tests/support/rate.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numeric>

namespace syntonon {
namespace {

std::vector<double> tone(double hz, double peak_db, double phase_deg = 0) {
    return *make_signal(ToneRecipe{hz, phase_deg, peak_db}, {rate, 5 * 48000});
}

TEST(Levels, OfASine) {
    const SignalLevels levels = levels_of(tone(1000, -6), rate);
    EXPECT_NEAR(levels.level_db.value(), -6, 1e-9);
    EXPECT_NEAR(levels.peak_db.value(), -6, 1e-9);
    EXPECT_NEAR(levels.crest_db.value(), 3.0103, 1e-4);
    EXPECT_NEAR(levels.true_peak_db.value(), -6, 0.05);
    EXPECT_EQ(levels.beyond_full_scale, 0U);
}

// The recommendation's calibration: a 997 Hz sine at 0 dBFS in one front channel reads -3.01.
TEST(Levels, LoudnessIsCalibrated) {
    EXPECT_NEAR(levels_of(tone(997, 0), rate).loudness_lufs.value(), -3.01, 0.01);
    EXPECT_NEAR(levels_of(tone(997, -23), rate).loudness_lufs.value(), -26.01, 0.01);
}

// A quarter of the rate, sampled beside its peaks: the wave reaches 3 dB higher.
TEST(Levels, TruePeaksLieBetweenTheSamples) {
    const SignalLevels levels = levels_of(tone(rate / 4, 0, 45), rate);
    EXPECT_NEAR(levels.peak_db.value(), -3.0103, 1e-4);
    EXPECT_NEAR(levels.true_peak_db.value(), 0, 0.3);
}

TEST(Levels, SilenceHasNone) {
    const SignalLevels levels = levels_of(std::vector<double>(1000), rate);
    EXPECT_FALSE(levels.level_db || levels.peak_db || levels.crest_db || levels.true_peak_db
                 || levels.loudness_lufs);
    EXPECT_FALSE(levels_of({}, rate).level_db);
    EXPECT_FALSE(levels_of(std::vector<double>(1000, 0.5), rate).loudness_lufs); // too short
}

TEST(Levels, CountsWhatIsBeyondFullScale) {
    EXPECT_EQ(levels_of(std::vector<double>{0.5, 1, 1.1, -1.2, -1}, rate).beyond_full_scale, 2U);
}

TEST(Levels, MatchesByLoudnessElseByLevel) {
    const SignalLevels loud = levels_of(tone(1000, -6), rate),
                       soft = levels_of(tone(1000, -20), rate), none;
    EXPECT_NEAR(gain_to_match_db(soft, loud), 14, 1e-6);
    SignalLevels short_one;
    short_one.level_db = -10;
    EXPECT_NEAR(gain_to_match_db(loud, short_one), -4, 1e-6);
    EXPECT_EQ(gain_to_match_db(none, loud), 0);
}

TEST(LevelOverTime, FollowsASteppedLevel) {
    auto signal = tone(1000, 0);
    signal.resize(9600);
    std::fill(signal.begin() + 4800, signal.end(), 0.0);
    const auto levels = level_over_time(signal, 2400);
    ASSERT_EQ(levels.size(), 4U);
    EXPECT_NEAR(levels[0], 0, 1e-9);
    EXPECT_NEAR(levels[1], 0, 1e-9);
    EXPECT_EQ(levels[2], -infinity);
    EXPECT_EQ(level_over_time(std::span(signal).first(2401), 2400).size(), 2U);
}

TEST(Histogram, CountsEverySample) {
    const std::vector<double> signal = {-1, -0.6, -0.1, 0.1, 0.4, 0.9, 1, 3};
    EXPECT_EQ(histogram_of(signal, 1, 4), (std::vector<std::size_t>{2, 1, 2, 3}));
    // Of a ramp all steps are alike.
    const auto ramp = *make_signal(SpikesOnRampRecipe{-1, 1, 1e6, 0}, {rate, 100'000});
    for (const std::size_t count : histogram_of(ramp, 1, 10)) {
        EXPECT_NEAR(static_cast<double>(count), 10'000, 2);
    }
}

} // namespace
} // namespace syntonon
