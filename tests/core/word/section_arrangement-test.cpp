// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/section_arrangement.h"

#include "core/filter/in_sections.h"
#include "core/word/headroom.h"
#include "core/word/output_noise.h"
#include "tests/support/word_chains.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <numeric>

namespace syntonon {
namespace {

WordFormat twenty_four_bits() {
    Arithmetic how;
    how.coefficient = Word::fixed(2, 22);
    how.data = how.state = Word::fixed(1, 23);
    how.accumulator = Word::fixed(11, 45);
    return {Structure::direct_form_1, how, how};
}

// Steep cuts and the gain to make up for them: in a bad order the noise of the last is loud.
Cascade uneven_cascade() {
    Cascade cascade{{{8, 0, 0, 0, 0}}};
    for (const Biquad& section : many_sections()) {
        cascade.sections.push_back(section);
    }
    cascade.sections[1].b0 /= 8, cascade.sections[1].b1 /= 8, cascade.sections[1].b2 /= 8;
    return cascade;
}

TEST(SectionArrangement, BareGainsJoinANumerator) {
    const Cascade bare = without_bare_gains(uneven_cascade());
    EXPECT_EQ(bare.sections.size(), many_sections().size());
    const auto grid = FrequencyGrid::logarithmic(10, 20000, 50, Axis(rate));
    const auto wished = magnitude_db(uneven_cascade(), *grid), made = magnitude_db(bare, *grid);
    for (std::size_t i = 0; i < made.size(); ++i) {
        EXPECT_NEAR(made[i], wished[i], 1e-9);
    }
    EXPECT_EQ(without_bare_gains(Cascade{{{2, 0, 0, 0, 0}, {3, 0, 0, 0, 0}}}),
              (Cascade{{{6, 0, 0, 0, 0}}}));
}

TEST(SectionArrangement, IsTheSameFilterInAnotherOrder) {
    const Cascade bare = without_bare_gains(uneven_cascade());
    const SectionArrangement arrangement = quiet_arrangement(bare, twenty_four_bits());
    std::vector<std::size_t> sorted = arrangement.order;
    std::ranges::sort(sorted);
    for (std::size_t i = 0; i < sorted.size(); ++i) {
        EXPECT_EQ(sorted[i], i);
    }
    EXPECT_NEAR(std::accumulate(arrangement.gains.begin(), arrangement.gains.end(), 1.0,
                                std::multiplies<>()),
                1, 1e-12);
    const auto grid = FrequencyGrid::logarithmic(10, 20000, 50, Axis(rate));
    const auto wished = magnitude_db(bare, *grid),
               made = magnitude_db(arranged(bare, arrangement), *grid);
    for (std::size_t i = 0; i < made.size(); ++i) {
        EXPECT_NEAR(made[i], wished[i], 1e-9);
    }
}

TEST(SectionArrangement, IsQuieterAndNeverLouderInside) {
    const Cascade bare = without_bare_gains(uneven_cascade());
    WordFormat format = twenty_four_bits();
    format.sections.coefficient = Word::fixed(6, 22); // numerators may be as large as they like
    const Cascade quiet = arranged(bare, quiet_arrangement(bare, format));
    // As it might come: an eighth at the beginning, made up for at the end.
    SeriesParts before, after;
    before.cascade = bare;
    for (double Biquad::*number : {&Biquad::b0, &Biquad::b1, &Biquad::b2}) {
        before.cascade.sections.front().*number /= 8;
        before.cascade.sections.back().*number *= 8;
    }
    after.cascade = quiet;
    const auto words_before = nearest_words(before, format),
               words_after = nearest_words(after, format);
    ASSERT_TRUE(words_before && words_after);
    EXPECT_LT(output_noise(*words_after, rate)->level_dbfs,
              output_noise(*words_before, rate)->level_dbfs - 12);
    const std::vector<double> peaks = peaks_along(quiet);
    for (std::size_t i = 0; i + 1 < peaks.size(); ++i) {
        EXPECT_LE(peaks[i], 1.001) << i;
    }
}

// Where a numerator is so large that the order by level alone would leave the last section more
// than its words hold, gains are taken so that all fit.
TEST(SectionArrangement, LeavesNoNumberBeyondItsWord) {
    const Cascade shelf = section(ParametricShape::high_shelf, 800, 10).sections().value();
    Cascade cascade{{shelf.sections[0], many_sections()[0],
                     section(ParametricShape::low_pass, 3000).sections()->sections[0]}};
    WordFormat format = twenty_four_bits(); // numerators up to 2
    EXPECT_FALSE(nearest_section(shelf.sections[0], 1, format));
    SeriesParts parts;
    parts.cascade = arranged(cascade, quiet_arrangement(cascade, format));
    EXPECT_TRUE(nearest_words(parts, format));
}

TEST(SectionArrangement, OfFloatsStaysAsItIs) {
    const WordFormat format{Structure::direct_form_1, short_floats(), short_floats()};
    EXPECT_EQ(quiet_arrangement(uneven_cascade(), format), as_given(uneven_cascade()));
}

} // namespace
} // namespace syntonon
