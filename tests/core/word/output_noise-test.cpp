// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/output_noise.h"

#include "core/word/section_in_words.h"
#include "core/word/taps_in_words.h"
#include "tests/support/noise.h"
#include "tests/support/word_chains.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

WordChain chain_of(const std::vector<Biquad>& sections, Structure structure,
                   const Arithmetic& how) {
    WordChain chain{structure, how, how, {}, {}, 0};
    for (const Biquad& section : sections) {
        chain.sections.push_back(rounded_to_words(section, structure, how));
    }
    return chain;
}

// The difference between a run in words and one of the same numbers in doubles: its power about its
// mean in dBFS, and its mean.
struct Simulated {
    double level_dbfs, mean;
};
Simulated simulated(const WordChain& chain, double level_dbfs) {
    const std::size_t count = 200000, settle = 40000;
    // White, of the level that the floats' noise is told for.
    std::vector<double> signal = noise(count, 11);
    const double scale = std::sqrt(std::pow(10, level_dbfs / 10) / 2 * 3);
    for (double& x : signal) {
        x = rounded(x * scale, chain.section_words.data, Rounding::nearest);
    }
    std::vector<double> exact = signal;
    filter_of(chain).run(exact);
    for (const StructuredSection& section : chain.sections) {
        SectionInWords run(chain.structure, section, chain.section_words);
        for (double& x : signal) {
            x = run.step(x);
        }
    }
    if (!chain.taps.empty()) {
        TapsInWords run(chain.taps, chain.tap_words);
        for (double& x : signal) {
            x = run.step(x);
        }
    }
    double sum = 0, squares = 0;
    for (std::size_t n = settle; n < count; ++n) {
        const double error = signal[n] - exact[n];
        sum += error;
        squares += error * error;
    }
    const double mean = sum / static_cast<double>(count - settle);
    return {10 * std::log10(2 * (squares / static_cast<double>(count - settle) - mean * mean)),
            mean};
}

TEST(OutputNoise, IsWhatARunInFixedWordsShows) {
    for (const auto& named_structure : structures()) {
        for (const Rounding rounding : {Rounding::truncate, Rounding::convergent}) {
            Arithmetic how = fixed_words(20, 19, 20);
            how.rounding = rounding;
            std::vector<Biquad> sections = many_sections();
            sections.erase(sections.begin() + 3); // 35 Hz takes longer to settle than this runs
            const WordChain chain = chain_of(sections, named_structure.value, how);
            const auto noise = output_noise(chain, rate);
            ASSERT_TRUE(noise) << named_structure.key;
            const Simulated run = simulated(chain, -26);
            EXPECT_NEAR(noise->level_dbfs, run.level_dbfs, 1) << named_structure.key;
            // A mean over so long still moves by the noise near 0 Hz.
            const double density = std::pow(10, noise->density_db.front() / 10) / 2;
            const double moves = std::sqrt(density / 2 / (160000 / rate));
            EXPECT_NEAR(noise->mean, run.mean, 0.1 * std::abs(run.mean) + 4 * moves)
                << named_structure.key;
        }
    }
}

TEST(OutputNoise, IsWhatARunInFloatsShows) {
    for (const auto& named_structure : structures()) {
        if (named_structure.value == Structure::error_feedback) {
            continue; // of fixed words
        }
        std::vector<Biquad> sections = many_sections();
        sections.erase(sections.begin() + 3);
        const WordChain chain = chain_of(sections, named_structure.value, short_floats());
        const auto noise = output_noise(chain, rate, -20);
        ASSERT_TRUE(noise);
        EXPECT_NEAR(noise->level_dbfs, simulated(chain, -20).level_dbfs, 1) << named_structure.key;
    }
}

TEST(OutputNoise, OfAnFirIsThatOfItsSum) {
    WordChain chain{
        Structure::direct_form_1, fixed_words(15, 15, 15), fixed_words(15, 15, 15), {}, {}, 0};
    for (const double tap : noise(64, 12)) {
        chain.taps.push_back(
            rounded(tap / 16, coefficient_values(chain.tap_words), Rounding::nearest));
    }
    const auto noise = output_noise(chain, rate);
    ASSERT_TRUE(noise);
    // One rounding to 16 bits: step^2 / 12.
    EXPECT_NEAR(noise->power, std::exp2(-30) / 12, std::exp2(-30) / 12 * 1e-6);
    EXPECT_NEAR(noise->drowned_bits, 0, 1e-6);
    EXPECT_NEAR(noise->level_dbfs, simulated(chain, -26).level_dbfs, 0.2);
}

TEST(OutputNoise, OfExactSumsIsNone) {
    // b0 = 1/2, all else 0: the state's word has bits to spare.
    const Arithmetic how = fixed_words(15, 15, 20);
    WordChain chain = chain_of({{2, 0, 0, 0, 0}}, Structure::direct_form_1, how);
    const auto noise = output_noise(chain, rate);
    ASSERT_TRUE(noise);
    EXPECT_EQ(noise->level_dbfs, -std::numeric_limits<double>::infinity());
    EXPECT_TRUE(noise->sources.empty());
}

TEST(OutputNoise, ItsSpectrumAddsUpToItsPower) {
    const WordChain chain =
        chain_of(many_sections(), Structure::transposed_form_2, fixed_words(20, 19, 20));
    const auto noise = output_noise(chain, rate);
    ASSERT_TRUE(noise);
    double power = 0;
    for (std::size_t i = 1; i < noise->frequency_hz.size(); ++i) {
        const double width = noise->frequency_hz[i] - noise->frequency_hz[i - 1];
        power += width
                 * (std::pow(10, noise->density_db[i] / 10)
                    + std::pow(10, noise->density_db[i - 1] / 10))
                 / 2;
    }
    EXPECT_NEAR(10 * std::log10(power), noise->level_dbfs, 0.01);
    double of_sources = 0;
    for (const NoiseSource& source : noise->sources) {
        of_sources += std::pow(10, source.level_dbfs / 10);
    }
    EXPECT_NEAR(10 * std::log10(of_sources), noise->level_dbfs, 1e-9);
}

TEST(OutputNoise, RefusesWhatIsNotStable) {
    const WordChain chain =
        chain_of({{1, 0, 0, -2, 1}}, Structure::direct_form_1, fixed_words(15, 15, 20));
    const auto noise = output_noise(chain, rate);
    ASSERT_FALSE(noise);
    EXPECT_FALSE(noise.error().way_out.empty());
}

} // namespace
} // namespace syntonon
