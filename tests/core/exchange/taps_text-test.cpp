// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/taps_text.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

using Values = std::vector<double>;

TEST(TapsText, PartsNumbersByWhateverStandsBetween) {
    EXPECT_EQ(taps_from_text("0.5 -1e-3\n2;3\t4"), (Values{0.5, -1e-3, 2, 3, 4}));
    EXPECT_EQ(taps_from_text("1, 2, 3"), (Values{1, 2, 3}));
    EXPECT_EQ(taps_from_text("0.5,0.25"), (Values{0.5, 0.25}));
    EXPECT_EQ(taps_from_text("# averaging\n1\r\n2 # the second\n\n"), (Values{1, 2}));
}

TEST(TapsText, ReadsDecimalCommasWhereTheyCanBeNothingElse) {
    EXPECT_EQ(taps_from_text("0,5\n-0,25\n1"), (Values{0.5, -0.25, 1}));
    EXPECT_EQ(taps_from_text("1,2\n3,4.5"), (Values{1, 2, 3, 4.5}));
}

TEST(TapsText, AnIndexIsNoTap) {
    EXPECT_EQ(taps_from_text("0 0.5\n1 -0.25\n2, 1"), (Values{0.5, -0.25, 1}));
    EXPECT_EQ(taps_from_text("1\t0.5\n2\t0.25"), (Values{0.5, 0.25}));
    EXPECT_EQ(taps_from_text("1 2\n3 4"), (Values{1, 2, 3, 4})) << "two taps a line";
    const auto wrong = taps_from_text("# taps\n0 0.5\n2 0.25\n1 0.125");
    ASSERT_FALSE(wrong);
    EXPECT_EQ(wrong.error().place, "line 3");
    EXPECT_EQ(wrong.error().reason, "index 2 stands where 1 should");
}

TEST(TapsText, ACArrayIsReadBetweenItsBraces) {
    EXPECT_EQ(taps_from_text("/* 3 taps */\nstatic const float h[3] = {\n  0.5f, -1e-3, // 7\n"
                             "  2L /* 9, 9 */ };\n"),
              (Values{0.5, -1e-3, 2}));
    EXPECT_EQ(taps_from_text("double h[] = {1, 2}"), (Values{1, 2}));
    EXPECT_EQ(taps_from_text("double h[] = {1,\n two}").error().place, "line 2");
    EXPECT_FALSE(taps_from_text("double h[] = {};"));
}

TEST(TapsText, WordsNeedTheirFormat) {
    const TextWord q15{16, 15}, q31{32, 31};
    EXPECT_EQ(taps_from_text("0x4000 0x8000\n0xFFFF", q15), (Values{0.5, -1, -1.0 / 32768}));
    EXPECT_EQ(taps_from_text("{0x40000000, 0xC0000000}", q31), (Values{0.5, -0.5}));
    EXPECT_EQ(taps_from_text("0x7FFFFFFFFFFFFFFF", TextWord{64, 0}), (Values{0x1p63}));
    EXPECT_NE(taps_from_text("0x4000").error().reason.find("format"), std::string::npos);
    EXPECT_NE(taps_from_text("1\n0x14000", q15).error().reason.find("more than 16 bits"),
              std::string::npos);
    EXPECT_FALSE(taps_from_text("0x", q15));
    EXPECT_FALSE(taps_from_text("0x12G4", q15));
}

TEST(TapsText, RefusesWithTheLine) {
    EXPECT_EQ(taps_from_text("1\nabc").error().place, "line 2");
    EXPECT_NE(taps_from_text("1\nabc").error().reason.find("abc"), std::string::npos);
    EXPECT_FALSE(taps_from_text("# nothing\n"));
    for (const std::string_view hostile :
         {std::string_view("1\0002", 3), std::string_view("1e999"), std::string_view("nan"),
          std::string_view("--1"), std::string_view("1,2,3.4.5"), std::string_view("\xff\xfe")}) {
        EXPECT_FALSE(taps_from_text(hostile)) << hostile;
    }
    EXPECT_FALSE(taps_from_file("/nowhere/at/all.txt"));
}

TEST(TapsText, WritesWhatItReads) {
    const Values taps{0.1, -1.0 / 3, 1e-300};
    EXPECT_EQ(taps_from_text(taps_text(taps)), taps);
}

} // namespace
} // namespace syntonon
