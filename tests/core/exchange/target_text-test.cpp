// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/target_text.h"

#include "tests/support/scratch.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

TEST(TargetText, ComesBackAsItWas) {
    TargetLine line;
    line.between = Between::linear_frequency;
    line.points = {{20, 3.25, {}},
                   {200.125, -1e-3, Between::gap},
                   {400, 0, Between::log_frequency},
                   {400, -6, {}}};
    const TargetLine read = target_from_text(target_text(line, "a, b")).value();
    ASSERT_EQ(read.points.size(), 4u);
    for (std::size_t i = 0; i < 4; ++i) {
        EXPECT_EQ(read.points[i].frequency_hz, line.points[i].frequency_hz);
        EXPECT_EQ(read.points[i].value, line.points[i].value);
        EXPECT_EQ(read.points[i].after, line.points[i].after.value_or(line.between));
    }
}

TEST(TargetText, ReadsPlainColumns) {
    for (const char* text : {"20 3\n20000 -3", "20;3\r\n20000;-3\r\n", "\n# hi\n20\t3\n20000\t-3\n",
                             "hertz, decibel\n20, 3\n20000, -3\n"}) {
        const auto read = target_from_text(text);
        ASSERT_TRUE(read) << text << to_text(read.error());
        ASSERT_EQ(read->points.size(), 2u);
        EXPECT_EQ(read->points[1].value, -3);
        EXPECT_FALSE(read->points[0].after);
    }
}

TEST(TargetText, RefusesNamingTheLine) {
    const auto place = [](const char* text) { return target_from_text(text).error().place; };
    EXPECT_EQ(place("20 3\n# c\nfoo 4\n"), "line 3");
    EXPECT_EQ(place("20 3\n30\n"), "line 2");
    EXPECT_EQ(place("20 3 curly\n"), "line 1");
    EXPECT_EQ(place("20 3 log 7\n"), "line 1");
    EXPECT_EQ(place("20 3\n\n10 4\n"), "line 3") << "descending";
    EXPECT_EQ(place("20 nan\n"), "line 1");
    EXPECT_EQ(place("0 1\n"), "line 1");
    EXPECT_EQ(place("# nothing\n"), "");
    EXPECT_FALSE(target_from_text("# nothing\n").error().way_out.empty());
}

TEST(TargetText, FilesAreNamedInProblems) {
    const test::Scratch scratch;
    const auto path = scratch.write("bad.txt", "20 3\nx y\nz\n");
    EXPECT_NE(to_text(target_from_file(path).error()).find("bad.txt"), std::string::npos);
    EXPECT_FALSE(target_from_file(scratch.file("missing.txt")));
}

} // namespace
} // namespace syntonon
