// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/notes.h"

#include <cmath>
#include <complex>
#include <gtest/gtest.h>
#include <numbers>
#include <vector>

namespace syntonon {
namespace {

TEST(Keys, AreThoseOfEqualTemperament) {
    EXPECT_DOUBLE_EQ(hz_of_key(69), 440);
    EXPECT_DOUBLE_EQ(hz_of_key(57), 220);
    EXPECT_NEAR(hz_of_key(60), 261.6256, 1e-4);
    EXPECT_NEAR(hz_of_key(69.5) / 440, std::exp2(1.0 / 24), 1e-12);
}

// The amplitude of a sine at that frequency, over whole periods of 1 Hz.
double amplitude_at(const std::vector<double>& wave, double hz) {
    std::complex<double> sum;
    for (std::size_t n = 0; n < wave.size(); ++n) {
        sum +=
            wave[n] * std::polar(1.0, -2 * std::numbers::pi * hz * double(n) / double(wave.size()));
    }
    return 2 * std::abs(sum) / double(wave.size());
}

std::vector<double> second_of(NoteWave wave, double hz) {
    NoteOscillator oscillator;
    std::vector<double> made(48000);
    for (int settled = 0; settled < 2; ++settled) { // the triangle finds its middle
        for (double& sample : made) {
            sample = oscillator.next(wave, hz / 48000);
        }
    }
    return made;
}

TEST(NoteOscillator, HasTheHarmonicsOfItsWave) {
    const double pi = std::numbers::pi;
    const auto saw = second_of(NoteWave::saw, 200);
    EXPECT_NEAR(amplitude_at(saw, 200), 2 / pi, 0.01);
    EXPECT_NEAR(amplitude_at(saw, 600), 2 / (3 * pi), 0.01);
    const auto square = second_of(NoteWave::square, 200);
    EXPECT_NEAR(amplitude_at(square, 200), 4 / pi, 0.01);
    EXPECT_LT(amplitude_at(square, 400), 0.002);
    EXPECT_NEAR(amplitude_at(square, 1000), 4 / (5 * pi), 0.01);
    const auto triangle = second_of(NoteWave::triangle, 200);
    EXPECT_NEAR(amplitude_at(triangle, 200), 8 / (pi * pi), 0.03);
    EXPECT_NEAR(amplitude_at(triangle, 600), 8 / (9 * pi * pi), 0.01);
}

TEST(NoteOscillator, LittleOfItFoldsBack) {
    // 31 harmonics of 1503 Hz: the 32nd, at 48096 Hz, would fold to 96 Hz.
    const auto saw = second_of(NoteWave::saw, 1503);
    EXPECT_LT(amplitude_at(saw, 96), 0.001);
    double naive = 0; // a jump without rounding: 2 / (32 pi)
    naive = 2 / (32 * std::numbers::pi);
    EXPECT_GT(naive, 0.015);
}

} // namespace
} // namespace syntonon
