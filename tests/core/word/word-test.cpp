// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/word.h"

#include <cmath>
#include <gtest/gtest.h>
#include <limits>

namespace syntonon {
namespace {

const Word q15 = Word::fixed(1, 15), q2_2 = Word::fixed(2, 2);

TEST(Word, HoldsWhatItsBitsSay) {
    EXPECT_EQ(q15.bits(), 16);
    EXPECT_EQ(least_of(q15), -1);
    EXPECT_EQ(greatest_of(q15), 1 - std::exp2(-15));
    EXPECT_EQ(step_of(q15), std::exp2(-15));
    EXPECT_EQ(greatest_of(Word::fixed(5, 23)), 16 - std::exp2(-23));
    EXPECT_EQ(greatest_of(Word::fixed(-2, 18)), 0.125 - std::exp2(-18)); // no bit before the point
}

TEST(Word, IsWrittenAndReadAgain) {
    for (const char* text : {"float64", "float32", "Q1.31", "Q-2.18", "Q8.0", "Q20.-4"}) {
        EXPECT_EQ(text_of(word_from_text(text).value()), text);
    }
    for (const char* text : {"", "Q", "Q1", "Q1.", "Q.31", "q1.31", "Q1.31 ", "Q0x1.3", "float16",
                             "Q1.0", "Q2.47", "Q1.200", "Q2147483647.2147483647"}) {
        EXPECT_FALSE(word_from_text(text)) << text;
    }
    EXPECT_TRUE(word_from_text("Q9.47", most_accumulator_bits));
}

TEST(Word, RoundsAsTwosComplementDoes) {
    struct {
        double value, truncated, nearest, convergent;
    } const cases[] = {{0.3, 0.25, 0.25, 0.25},    {0.125, 0, 0.25, 0},
                       {0.375, 0.25, 0.5, 0.5},    {-0.1, -0.25, 0, 0},
                       {-0.125, -0.25, 0, 0},      {-0.375, -0.5, -0.25, -0.5},
                       {-0.3, -0.5, -0.25, -0.25}, {1.75, 1.75, 1.75, 1.75}};
    for (const auto& c : cases) {
        EXPECT_EQ(rounded(c.value, q2_2, Rounding::truncate), c.truncated) << c.value;
        EXPECT_EQ(rounded(c.value, q2_2, Rounding::nearest), c.nearest) << c.value;
        EXPECT_EQ(rounded(c.value, q2_2, Rounding::convergent), c.convergent) << c.value;
    }
}

TEST(Word, SaturatesOrWraps) {
    EXPECT_EQ(rounded(2, q2_2, Rounding::nearest), 1.75);
    EXPECT_EQ(rounded(-9, q2_2, Rounding::nearest), -2);
    EXPECT_EQ(rounded(2, q2_2, Rounding::nearest, Overflow::wrap), -2);
    EXPECT_EQ(rounded(5.25, q2_2, Rounding::nearest, Overflow::wrap), 1.25);
    EXPECT_EQ(rounded(-2.25, q2_2, Rounding::nearest, Overflow::wrap), 1.75);
    EXPECT_EQ(rounded(1e300, q2_2, Rounding::nearest), 1.75);
    const double nan = std::numeric_limits<double>::quiet_NaN();
    EXPECT_EQ(rounded(nan, q2_2, Rounding::nearest), 0);
    EXPECT_TRUE(fits(1.8, q2_2));
    EXPECT_FALSE(fits(1.9, q2_2)); // becomes 2
    EXPECT_TRUE(fits(1.9, q2_2, Rounding::truncate));
    EXPECT_FALSE(fits(1e39, Word::float32()));
}

TEST(Word, HasABitPattern) {
    EXPECT_EQ(hexadecimal(-1, q15), "0x8000");
    EXPECT_EQ(hexadecimal(0.5, q15), "0x4000");
    EXPECT_EQ(hexadecimal(-std::exp2(-15), q15), "0xffff");
    EXPECT_EQ(hexadecimal(1, Word::fixed(5, 23)), "0x0800000"); // 28 bits, seven digits
    EXPECT_EQ(hexadecimal(1, Word::float32()), "0x3f800000");
    EXPECT_EQ(hexadecimal(-2, Word::float64()), "0xc000000000000000");
    for (const Word& word : {q15, q2_2, Word::fixed(5, 43), Word::float32(), Word::float64()}) {
        for (const double value : {0.0, 0.25, -0.75, 0.7, -1.0}) {
            const double held = rounded(value, word, Rounding::nearest);
            EXPECT_EQ(from_pattern(pattern_of(held, word), word), held);
        }
    }
}

} // namespace
} // namespace syntonon
