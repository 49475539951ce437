// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/word_engine.h"

#include "core/engine/render.h"
#include "core/word/section_in_words.h"
#include "tests/support/in_blocks.h"
#include "tests/support/noise.h"
#include "tests/support/word_chains.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

WordChain all_parts() {
    const Arithmetic how = fixed_words(15, 15, 18);
    WordChain chain{Structure::transposed_form_2, how, how, {}, {0.5, 0.25, -0.125}, 5};
    for (const Biquad& section : {many_sections()[0], many_sections()[4]}) {
        chain.sections.push_back(rounded_to_words(section, chain.structure, how));
    }
    return chain;
}

TEST(WordEngine, IsItsPartsOneAfterTheOther) {
    const WordChain chain = all_parts();
    std::vector<double> signal = noise(500, 1);
    std::vector<double> wanted = signal;
    for (double& x : wanted) {
        x = rounded(x, chain.section_words.data, Rounding::nearest);
    }
    for (const StructuredSection& section : chain.sections) {
        SectionInWords run(chain.structure, section, chain.section_words);
        for (double& x : wanted) {
            x = run.step(x);
        }
    }
    WordEngine(chain).process(signal);
    for (std::size_t n = 8; n < signal.size(); ++n) {
        // The taps are powers of two: but for rounding at the end it is a plain sum.
        const double sum = 0.5 * wanted[n - 5] + 0.25 * wanted[n - 6] - 0.125 * wanted[n - 7];
        EXPECT_EQ(signal[n], rounded(sum, chain.section_words.data, Rounding::nearest));
    }
    EXPECT_EQ(signal[4], 0);
}

TEST(WordEngine, BlocksAndResetChangeNothing) {
    const std::vector<double> input = noise(1000, 2);
    std::vector<double> at_once = input;
    WordEngine engine(all_parts());
    engine.process(at_once);
    engine.reset();
    std::vector<double> in_parts = input;
    for (std::size_t at = 0, length = 1; at < in_parts.size(); at += length, length += 3) {
        length = std::min(length, in_parts.size() - at);
        engine.process(std::span(in_parts).subspan(at, length));
    }
    EXPECT_EQ(in_parts, at_once);
}

TEST(WordEngine, StandsBehindAFilterThatIsRunSo) {
    const WordChain chain = all_parts();
    const Filter filter = filter_in_words(chain);
    std::vector<double> wanted = noise(500, 3), signal = wanted;
    WordEngine(chain).process(wanted);
    const auto out = render(filter, signal, 0);
    ASSERT_TRUE(out);
    EXPECT_EQ(out->out, wanted) << "to the last bit";
    EXPECT_EQ(filter, filter_in_words(all_parts()));
    WordChain other = chain;
    other.section_words.rounding = Rounding::truncate;
    EXPECT_FALSE(filter == filter_in_words(other)) << "the same numbers, rounded otherwise";
    EXPECT_EQ(filter.latency_samples(), filter_of(chain).latency_samples());
}

} // namespace
} // namespace syntonon
