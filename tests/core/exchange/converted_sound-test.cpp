// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/converted_sound.h"

#include "core/base/units.h"
#include "core/exchange/dither.h"
#include "tests/support/scratch.h"
#include "tests/support/sounds.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

double sine(double hz, std::size_t n, double rate_hz) {
    return std::sin(2 * pi * hz * static_cast<double>(n) / rate_hz);
}

// Two channels, in pieces of an odd size.
TEST(ConvertedSound, IsTheSoundAtTheOtherRate) {
    const test::Scratch scratch;
    std::vector<double> samples;
    for (std::size_t n = 0; n < 20000; ++n) {
        samples.push_back(0.4 * sine(440, n, 96000));
        samples.push_back(-0.4 * sine(3000, n, 96000));
    }
    test::write_sound(scratch.file("a.wav"), samples, {96000, 2, 0});
    auto reader = *converted(*SoundReader::open(scratch.file("a.wav")), 44100);
    EXPECT_EQ(reader->shape().sample_rate_hz, 44100);
    EXPECT_EQ(reader->shape().channels, 2);
    EXPECT_EQ(reader->shape().frames, 9188);
    std::vector<double> out, piece(2 * 777);
    while (const std::size_t count = *reader->read(piece)) {
        out.insert(out.end(), piece.begin(),
                   piece.begin() + static_cast<std::ptrdiff_t>(2 * count));
    }
    ASSERT_NEAR(static_cast<double>(out.size()) / 2, 9188, 2);
    for (std::size_t n = 500; n < 8600; ++n) {
        ASSERT_NEAR(out[2 * n], 0.4 * sine(440, n, 44100), 2e-6);
        ASSERT_NEAR(out[2 * n + 1], -0.4 * sine(3000, n, 44100), 2e-6);
    }
}

TEST(ConvertedSound, OfTheSameRateIsItself) {
    const test::Scratch scratch;
    test::write_sound(scratch.file("a.wav"), {0.5, -0.5, 0.25});
    auto reader = *converted(*SoundReader::open(scratch.file("a.wav")), 48000);
    std::vector<double> all(5);
    EXPECT_EQ(*reader->read(all), 3U);
    EXPECT_EQ(all[2], 0.25);
}

TEST(ConvertedSound, RefusesRatesTooFarApart) {
    const test::Scratch scratch;
    test::write_sound(scratch.file("a.wav"), {0.5}, {100, 1, 0});
    EXPECT_EQ(converted(*SoundReader::open(scratch.file("a.wav")), 48000).error().place,
              "sample_rate_hz");
}

// The error's mean is 0 and its power a quarter of a step squared, whatever the signal (Lipshitz,
// Wannamaker and Vanderkooy 1992, section 3): dither adds 1/6 to rounding's 1/12.
TEST(Dither, MakesTheErrorPlainNoise) {
    for (const double value : {0.0, 0.1, 0.3, 0.5}) {
        TriangularDither dither(1);
        double sum = 0, squares = 0;
        constexpr int count = 400'000;
        for (int n = 0; n < count; ++n) {
            const double error = std::round(value + dither.next()) - value;
            sum += error / count;
            squares += error * error / count;
        }
        EXPECT_NEAR(sum, 0, 0.003) << value;
        EXPECT_NEAR(squares, 0.25, 0.003) << value;
    }
}

} // namespace
} // namespace syntonon
