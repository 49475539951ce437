// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/limit_cycles.h"

#include "core/word/section_in_words.h"
#include "tests/support/word_chains.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

WordChain one_section(Structure structure, const Biquad& section, const Arithmetic& how) {
    return {structure, how, how, {rounded_to_words(section, structure, how)}, {}, 0};
}

// y = -0.9 y' rounded to the nearest step: 4, -4, 4, ... stay, since 3.6 becomes 4. 5 would be the
// greatest by Jackson's bound, 0.5 / (1 - 0.9), but -4.5 goes up to -4.
TEST(LimitCycles, OfOnePoleAreInsideJacksonsBound) {
    Arithmetic how = fixed_words(15, 15, 15, 1);
    const double step = step_of(how.data);
    const auto search =
        find_limit_cycles(one_section(Structure::direct_form_1, {1, 0, 0, 0.9, 0}, how));
    ASSERT_TRUE(search);
    ASSERT_TRUE(search->of_sections[0]);
    EXPECT_EQ(search->of_sections[0]->period, 2);
    EXPECT_NEAR(search->of_sections[0]->peak, 4 * step, 1e-12);
    EXPECT_FALSE(search->of_sections[0]->by_overflow);
    // With truncation towards minus infinity it stays at a value instead of going to rest.
    how.rounding = Rounding::truncate;
    const auto truncated =
        find_limit_cycles(one_section(Structure::direct_form_1, {1, 0, 0, -0.9, 0}, how));
    ASSERT_TRUE(truncated && truncated->of_sections[0]);
    EXPECT_EQ(truncated->of_sections[0]->period, 1);
}

// The cycle that is told is one: begun from what it told, a run goes on like that.
TEST(LimitCycles, AreReachedByARun) {
    const Arithmetic how = fixed_words(15, 15, 15, 1);
    const WordChain chain = one_section(Structure::direct_form_1, many_sections()[1], how);
    const auto search = find_limit_cycles(chain);
    ASSERT_TRUE(search && search->of_sections[0]);
    SectionInWords section(chain.structure, chain.sections[0], how);
    double loudest = 0;
    section.step(0.3);
    for (int n = 0; n < 60000; ++n) {
        const double y = section.step(0);
        loudest = n > 50000 ? std::max(loudest, std::abs(y)) : 0;
    }
    EXPECT_GT(loudest, 0);
    EXPECT_LE(loudest, search->of_sections[0]->peak);
}

// Two's complement that wraps keeps swinging from end to end; saturation stops it (Ebert, Mazo and
// Taylor, 1969).
TEST(LimitCycles, OverflowSwingsOnlyWhereItWraps) {
    const Biquad section{0.1, 0, 0, -1.5, 0.9};
    Arithmetic how = fixed_words(20, 15, 15, 1);
    how.overflow = Overflow::wrap;
    const auto wrapping = find_limit_cycles(one_section(Structure::direct_form_1, section, how));
    ASSERT_TRUE(wrapping && wrapping->of_sections[0]);
    EXPECT_TRUE(wrapping->of_sections[0]->by_overflow);
    EXPECT_GT(wrapping->of_sections[0]->peak, 0.3);
    how.overflow = Overflow::saturate;
    const auto saturating = find_limit_cycles(one_section(Structure::direct_form_1, section, how));
    ASSERT_TRUE(saturating);
    EXPECT_TRUE(!saturating->of_sections[0] || saturating->of_sections[0]->peak < 0.01);
}

// A normalised lattice with magnitudes cut down has none (A. H. Gray and J. D. Markel, 1975); here
// one with full rounding has smaller ones than the direct form.
TEST(LimitCycles, AreSmallerInALattice) {
    const Arithmetic how = fixed_words(15, 15, 15, 1);
    const Biquad sharp = many_sections()[1];
    const auto direct = find_limit_cycles(one_section(Structure::direct_form_1, sharp, how));
    const auto lattice = find_limit_cycles(one_section(Structure::normalised_lattice, sharp, how));
    ASSERT_TRUE(direct && lattice && direct->of_sections[0]);
    EXPECT_LT(lattice->of_sections[0] ? lattice->of_sections[0]->peak : 0,
              direct->of_sections[0]->peak / 4);
}

TEST(LimitCycles, OfFloatsAreNone) {
    const auto search = find_limit_cycles(
        one_section(Structure::direct_form_1, many_sections()[1], short_floats()));
    ASSERT_TRUE(search);
    EXPECT_FALSE(search->of_sections[0]);
    EXPECT_EQ(search->tried, 0);
}

TEST(LimitCycles, AreNotLookedForOnceStopped) {
    Watch watch;
    watch.stop();
    EXPECT_FALSE(find_limit_cycles(
        one_section(Structure::direct_form_1, many_sections()[1], fixed_words(15, 15, 15, 1)),
        watch));
}

} // namespace
} // namespace syntonon
