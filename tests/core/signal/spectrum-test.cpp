// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/spectrum.h"

#include "core/base/units.h"
#include "core/filter/filter.h"
#include "core/filter/grid.h"
#include "core/signal/make_signal.h"
#include "tests/support/noise.h"
#include "tests/support/rate.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

std::vector<double> tone_of(double hz, std::size_t count, double peak_db = 0) {
    return *make_signal(ToneRecipe{hz, 20, peak_db}, {rate, count});
}

TEST(Spectrum, AFullScaleToneReadsZeroAtABin) {
    for (const WindowShape shape : {WindowShape::hann, WindowShape::blackman_harris,
                                    WindowShape::flat_top, WindowShape::rectangular}) {
        SpectrumSettings settings;
        settings.window.shape = shape;
        settings.length = 4800;
        const Spectrum spectrum = level_spectrum(tone_of(1000, 48000), rate, settings);
        EXPECT_NEAR(value_at(spectrum, 1000).value(), 0, 2e-3) << int(shape);
        EXPECT_EQ(spectrum.averages, 19U);
    }
}

TEST(Spectrum, AFlatTopReadsAToneAnywhere) {
    SpectrumSettings settings;
    settings.window.shape = WindowShape::flat_top;
    settings.length = 4096;
    for (double hz = 1000; hz < 1012; hz += 1.17) {
        const Spectrum spectrum = level_spectrum(tone_of(hz, 48000, -12), rate, settings);
        EXPECT_NEAR(*std::ranges::max_element(spectrum.db), -12, 0.012) << hz;
    }
}

TEST(Spectrum, AnOffsetReadsItsLevelAt0Hz) {
    // full scale at 0 Hz is an offset whose power is that of a full-scale sine
    const std::vector<double> offset(10000, std::sqrt(0.5));
    EXPECT_NEAR(level_spectrum(offset, rate, {}).db.front(), 0, 1e-9);
}

TEST(Spectrum, TheDensityOfNoiseIsItsPowerInEachHz) {
    const auto noise = *make_signal(WhiteNoiseRecipe{-20, 3}, {rate, 1 << 18});
    const double expected = -20 - db_from_power(rate / 2);
    for (const WindowShape shape : {WindowShape::hann, WindowShape::rectangular}) {
        for (const std::size_t length : {std::size_t(1024), std::size_t(8192)}) {
            const Spectrum spectrum = density_spectrum(noise, rate, {{shape, 0, {}}, length, 0});
            double mean = 0;
            for (const double db : spectrum.db) {
                mean += std::pow(10, db / 10) / static_cast<double>(spectrum.db.size());
            }
            EXPECT_NEAR(db_from_power(mean), expected, 0.05);
        }
    }
}

TEST(Spectrum, AveragesAreAsManyAsAskedFor) {
    const auto some = noise(40000, 1);
    EXPECT_EQ(density_spectrum(some, rate, {{}, 4096, 3}).averages, 3U);
    EXPECT_EQ(density_spectrum(some, rate, {{}, 4096, 0}).averages, 18U);
    EXPECT_EQ(density_spectrum(std::span(some).first(100), rate, {{}, 4096, 0}).averages, 1U);
    EXPECT_TRUE(density_spectrum({}, rate, {}).db.empty());
}

Filter some_chain() {
    return Filter(Cascade{{{1.2, -1.7, 0.8, -1.9, 0.93}, {0.5, 0.3, 0.1, 0.2, -0.1}}});
}

void expect_response(const Spectrum& spectrum, const Filter& chain, double within_db,
                     std::size_t every) {
    std::vector<double> hz;
    for (std::size_t k = 1; k + 1 < spectrum.db.size(); k += every) {
        hz.push_back(spectrum.hz_of(k));
    }
    const auto expected =
        chain.magnitude_db(FrequencyGrid::from_frequencies(hz, Axis(rate)).value());
    for (std::size_t i = 0; i < hz.size(); ++i) {
        const double db = spectrum.db[1 + i * every];
        if (!std::isnan(db)) {
            ASSERT_NEAR(db, expected[i], within_db) << hz[i];
        }
    }
}

TEST(TransientRatio, OfAnImpulseIsTheResponse) {
    std::vector<double> in(64), out(4000);
    in[5] = out[5] = 0.3;
    const Filter chain = some_chain();
    chain.run(out);
    const Spectrum spectrum = transient_ratio(in, out, rate);
    EXPECT_EQ(spectrum.scale, SpectrumScale::ratio);
    EXPECT_GE(spectrum.length, 1U << 16);
    expect_response(spectrum, chain, 1e-9, 7);
}

TEST(TransientRatio, OfAStepIsTheResponse) {
    const std::vector<double> in(4000, 0.5);
    std::vector<double> out = in;
    const Filter chain = some_chain();
    chain.run(out);
    expect_response(transient_ratio(in, out, rate), chain, 1e-9, 7);
}

TEST(TransientRatio, LeavesGapsWhereNothingCameIn) {
    std::vector<double> in(1 << 16), out;
    in[0] = 1;
    in[2] = 1; // no power at a quarter of the rate
    out = in;
    const Spectrum spectrum = transient_ratio(in, out, rate);
    EXPECT_FALSE(value_at(spectrum, rate / 4).has_value());
    EXPECT_NEAR(value_at(spectrum, 1000).value(), 0, 1e-12);
}

TEST(RatioSpectrum, FindsTheChainUnderNoiseOfItsOwn) {
    const auto in = *make_signal(WhiteNoiseRecipe{-10, 1}, {rate, 1 << 19});
    const auto disturbing = *make_signal(WhiteNoiseRecipe{-40, 2}, {rate, 1 << 19});
    auto out = in;
    const Filter chain(Cascade{{{0.6, 0.2, 0.1, -0.3, 0.1}}});
    chain.run(out);
    for (std::size_t n = 0; n < out.size(); ++n) {
        out[n] += disturbing[n];
    }
    expect_response(ratio_spectrum(in, out, rate, {{WindowShape::hann, 0, {}}, 2048, 0}), chain,
                    0.3, 5);
}

TEST(UsualSpectrumLength, GrowsWithTheSignal) {
    EXPECT_EQ(usual_spectrum_length(10), 512U);
    EXPECT_EQ(usual_spectrum_length(48000), 4096U);
    EXPECT_EQ(usual_spectrum_length(1 << 24), 65536U);
}

} // namespace
} // namespace syntonon
