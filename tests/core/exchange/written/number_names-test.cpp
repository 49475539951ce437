// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/written/number_names.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

TEST(NumberNames, AreThoseOfCoefficientsHoweverTheyAreJoined) {
    EXPECT_EQ(known_name({"b0"}), "b0");
    EXPECT_EQ(known_name({"low_a_12"}), "a12");
    EXPECT_EQ(known_name({"Denominator"}), "a");
    EXPECT_EQ(known_name({"h7"}), "taps");
    EXPECT_EQ(known_name({"cutoff"}), "");
    EXPECT_EQ(known_name({"a2000"}), "") << "no filter has so many";
    EXPECT_EQ(known_name({}), "");
}

TEST(NumberNames, OfSeveralWordsIsTheLastThatNamesSomething) {
    EXPECT_EQ(known_name({"Numerator", "coefficients"}), "b");
    EXPECT_EQ(known_name({"gain", "of", "a"}), "gain") << "a word, not a letter, among others";
}

TEST(NumberNames, TermsAreSingleNumbers) {
    EXPECT_TRUE(is_term("a2") && is_term("gain"));
    EXPECT_FALSE(is_term("a") || is_term("taps") || is_term(""));
}

TEST(NumberNames, TheRateIsHeardInHertz) {
    EXPECT_EQ(rate_in("Sample rate 44100 Hz"), "44100");
    EXPECT_EQ(rate_in("fs = 44.1 kHz, measured"), "44100");
    EXPECT_FALSE(rate_in("offs = 3")) << "within a word";
    EXPECT_FALSE(rate_in("sample rate unknown"));
}

} // namespace
} // namespace syntonon
