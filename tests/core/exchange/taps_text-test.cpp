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
