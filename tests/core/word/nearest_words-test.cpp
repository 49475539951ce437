// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/nearest_words.h"

#include "core/filter/in_sections.h"
#include "tests/support/word_chains.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

SeriesParts parts_of(std::vector<Biquad> sections, std::vector<double> taps = {}) {
    return {Cascade{std::move(sections)}, 3, std::move(taps)};
}
WordFormat format_of(Structure structure, const Arithmetic& how) {
    return {structure, how, how};
}

TEST(NearestWords, AreWithinHalfAStep) {
    const WordFormat format = format_of(Structure::direct_form_1, fixed_words(13, 15, 15));
    const SeriesParts parts = parts_of(many_sections(), {0.25, -0.3, 0.7});
    const auto chain = nearest_words(parts, format);
    ASSERT_TRUE(chain);
    EXPECT_EQ(chain->delay_samples, 3U);
    const double half = std::exp2(-14);
    for (std::size_t i = 0; i < chain->sections.size(); ++i) {
        const Biquad made = biquad_of(chain->sections[i], format.structure);
        const Biquad& wished = parts.cascade.sections[i];
        for (double Biquad::*number :
             {&Biquad::b0, &Biquad::b1, &Biquad::b2, &Biquad::a1, &Biquad::a2}) {
            EXPECT_LE(std::abs(made.*number - wished.*number), half);
            EXPECT_EQ(std::ldexp(made.*number, 13), std::round(std::ldexp(made.*number, 13)));
        }
    }
    EXPECT_NEAR(chain->taps[1], -0.3, half);
}

TEST(NearestWords, SayWhichNumberDoesNotFitAndWhatHelps) {
    Arithmetic how = fixed_words(15, 15, 15);
    how.coefficient = Word::fixed(1, 15);
    how.accumulator = Word::fixed(24, 30);
    const auto beyond = nearest_words(parts_of({{0.5, 0, 0, 0.5, 0}, {0.5, 0, 0, -1.98, 0.99}}),
                                      format_of(Structure::direct_form_1, how));
    ASSERT_FALSE(beyond);
    EXPECT_EQ(beyond.error().place, "section 2");
    EXPECT_EQ(beyond.error().reason, "a1 = -1.98 is beyond Q1.15 (-1 to 0.999969)");
    EXPECT_EQ(beyond.error().way_out,
              "shift the coefficients by 1, or give their word 2 bits before the point: Q2.14");
    how.shift = 1;
    EXPECT_TRUE(nearest_words(parts_of({{0.5, 0, 0, -1.98, 0.99}}),
                              format_of(Structure::direct_form_1, how)));
    const auto loud =
        nearest_words(parts_of({{5, 0, 0, 0, 0}}), format_of(Structure::direct_form_1, how));
    ASSERT_FALSE(loud);
    EXPECT_NE(loud.error().way_out.find("shares the gains out"), std::string::npos);
    const auto tap =
        nearest_words(parts_of({}, {0.1, 2.5}), format_of(Structure::direct_form_1, how));
    ASSERT_FALSE(tap);
    EXPECT_EQ(tap.error().place, "tap 2");
}

TEST(NearestWords, KeepTheProcessorsOwnLimits) {
    WordFormat format = format_of(Structure::direct_form_1, fixed_words(13, 15, 15));
    format.b_below = 2;
    const auto beyond = nearest_words(parts_of({{2.25, 0, 0, 0, 0}}), format);
    ASSERT_FALSE(beyond);
    EXPECT_NE(beyond.error().reason.find("±2"), std::string::npos);
    format.b_below = 4;
    EXPECT_TRUE(nearest_words(parts_of({{2.25, 0, 0, 0, 0}}), format));
}

TEST(NearestWords, RefuseWhatCannotBe) {
    const SeriesParts unstable = parts_of({{1, 0, 0, -2.1, 1.2}});
    EXPECT_FALSE(
        nearest_words(unstable, format_of(Structure::normalised_lattice, fixed_words(13, 15, 15))));
    EXPECT_FALSE(nearest_words(parts_of({}), format_of(Structure::error_feedback, short_floats())));
    Arithmetic mixed = fixed_words(13, 15, 15);
    mixed.state = Word::float32();
    const auto contradicting =
        nearest_words(parts_of({}), format_of(Structure::direct_form_1, mixed));
    ASSERT_FALSE(contradicting);
    EXPECT_EQ(contradicting.error().place, "sections.state");
}

} // namespace
} // namespace syntonon
