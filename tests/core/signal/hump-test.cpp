// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/hump.h"

#include "core/signal/make_signal.h"
#include "core/signal/spectrogram.h"
#include "tests/support/rate.h"

#include <algorithm>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

constexpr SignalExtent long_one{rate, 12 * 48000};

std::vector<double> sum_of(std::initializer_list<Recipe> recipes) {
    std::vector<double> sum(long_one.samples);
    for (const Recipe& recipe : recipes) {
        const auto one = *make_signal(recipe, long_one);
        for (std::size_t n = 0; n < sum.size(); ++n) {
            sum[n] += one[n];
        }
    }
    return sum;
}

Spectrum density(const std::vector<double>& signal) {
    return density_spectrum(signal, rate,
                            {{WindowShape::hann, 0, {}}, usual_spectrum_length(signal.size()), 0});
}

TEST(Humps, FindsBandsAndLines) {
    const Spectrum spectrum =
        density(sum_of({PinkNoiseRecipe{-30, 1}, BandNoiseRecipe{4050, 4780, -30, 2},
                        ToneRecipe{237, 0, -30}, BandNoiseRecipe{25, 40, -20, 3}}));
    const auto humps = humps_of(spectrum);
    const auto fan = hump_at(humps, 4300);
    ASSERT_TRUE(fan);
    EXPECT_NEAR(fan->from_hz, 4050, 40);
    EXPECT_NEAR(fan->to_hz, 4780, 40);
    EXPECT_FALSE(fan->is_line);
    EXPECT_GT(fan->stands_db, 15);
    const auto tone = hump_at(humps, 235);
    ASSERT_TRUE(tone);
    EXPECT_NEAR(tone->at_hz, 237, spectrum.step_hz);
    EXPECT_TRUE(tone->is_line);
    const auto rumble = hump_at(humps, 30);
    ASSERT_TRUE(rumble);
    EXPECT_NEAR(rumble->from_hz, 25, 4);
    EXPECT_NEAR(rumble->to_hz, 40, 4);
    EXPECT_FALSE(hump_at(humps, 1200));
}

// A notch that is as narrow as a bin must stand where the tone is.
TEST(Humps, ALineIsFoundBetweenTheBins) {
    for (const WindowShape shape : {WindowShape::hann, WindowShape::blackman_harris}) {
        for (const double hz : {50.0, 236.7, 1000.3, 9999.9}) {
            const auto signal = sum_of({PinkNoiseRecipe{-60, 1}, ToneRecipe{hz, 0, -30}});
            const Spectrum spectrum = density_spectrum(
                signal, rate, {{shape, 0, {}}, usual_spectrum_length(signal.size()), 0});
            const auto tone = hump_at(humps_of(spectrum), hz);
            ASSERT_TRUE(tone && tone->is_line) << hz;
            EXPECT_NEAR(tone->at_hz, hz, 0.01 * spectrum.step_hz);
        }
    }
}

TEST(Humps, PlainNoiseHasNone) {
    EXPECT_TRUE(humps_of(density(sum_of({WhiteNoiseRecipe{-20, 1}}))).empty());
    EXPECT_TRUE(humps_of(density(sum_of({PinkNoiseRecipe{-20, 9}}))).empty());
    EXPECT_TRUE(humps_of({}).empty());
}

// Neither the skirts that a short stretch gives it nor what rounding leaves.
TEST(Humps, ALineAloneIsOne) {
    const auto tone = *make_signal(ToneRecipe{440, 0, 0}, {rate, 15'000});
    const Spectrum spectrum = density(tone);
    const auto humps = humps_of(spectrum);
    ASSERT_EQ(humps.size(), 1U);
    EXPECT_NEAR(humps[0].at_hz, 440, spectrum.step_hz);
}

TEST(Humps, OfARangeCountsFromItsEdges) {
    const Spectrum spectrum =
        density(sum_of({WhiteNoiseRecipe{-40, 1}, BandNoiseRecipe{1000, 1100, -30, 2}}));
    const Hump hump = hump_between(spectrum, 900, 1200);
    EXPECT_EQ(hump.from_hz, 900);
    EXPECT_EQ(hump.to_hz, 1200);
    EXPECT_TRUE(hump.at_hz > 990 && hump.at_hz < 1110);
    EXPECT_NEAR(hump.stands_db, 10 + 23.8, 5); // 24 kHz in 100 Hz are 23.8 dB
}

TEST(Spectrogram, ShowsWhenAndWhere) {
    auto signal = sum_of({ToneRecipe{1000, 0, -20}});
    const std::size_t half = signal.size() / 2;
    std::fill(signal.begin() + static_cast<std::ptrdiff_t>(half), signal.end(), 0.0);
    const SpectrogramShape shape{100, 60, 20, 20000, 4096};
    const Spectrogram picture = spectrogram_of(signal, rate, shape);
    ASSERT_EQ(picture.db.size(), 6000U);
    const auto row_of_1k = static_cast<std::size_t>(60 * std::log(1000.0 / 20) / std::log(1000.0));
    std::size_t loudest = 0;
    for (std::size_t row = 0; row < 60; ++row) {
        loudest = picture.at(20, row) > picture.at(20, loudest) ? row : loudest;
    }
    EXPECT_EQ(loudest, row_of_1k);
    EXPECT_GT(picture.at(20, row_of_1k), picture.at(80, row_of_1k) + 100);
    EXPECT_EQ(picture.at(80, row_of_1k), -200);
    Watch watch;
    watch.stop();
    EXPECT_TRUE(spectrogram_of(signal, rate, shape, watch).db.empty());
    EXPECT_TRUE(spectrogram_of({}, rate, shape).db.empty());
}

// Rows that stand for several bins and rows that share one: white noise is level in all.
TEST(Spectrogram, OfWhiteNoiseIsLevel) {
    const SpectrogramShape shape{50, 40, 30, 20000, 8192};
    const Spectrogram picture = spectrogram_of(sum_of({WhiteNoiseRecipe{-20, 4}}), rate, shape);
    const double expected = -20 - 10 * std::log10(24000.0);
    for (std::size_t row = 0; row < shape.rows; ++row) {
        double power = 0;
        for (std::size_t column = 0; column < shape.columns; ++column) {
            power += std::pow(10, picture.at(column, row) / 10.0) / 50;
        }
        EXPECT_NEAR(10 * std::log10(power), expected, 2) << row;
    }
}

} // namespace
} // namespace syntonon
