// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/import_text.h"

#include "tests/support/scratch.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

using Numbers = std::vector<double>;

ImportedCurve imported(std::string_view text) {
    const auto result = import_text(text);
    EXPECT_TRUE(result) << (result ? "" : to_text(result.error()));
    return result.value_or(ImportedCurve{});
}

struct Flavour {
    const char* name;
    const char* text;
};

class Flavours : public testing::TestWithParam<Flavour> {};

// The same two points in every way that people write them.
TEST_P(Flavours, AreTheSameCurve) {
    const auto result = import_text(GetParam().text);
    ASSERT_TRUE(result) << to_text(result.error());
    EXPECT_EQ(result->curve.frequency_hz, (Numbers{20.5, 1000}));
    EXPECT_EQ(result->curve.magnitude_db, (Numbers{71.25, -3}));
    if (result->curve.has_phase()) {
        EXPECT_EQ(result->curve.phase_deg, (Numbers{10.5, -14}));
    }
}
INSTANTIATE_TEST_SUITE_P(
    Text, Flavours,
    testing::Values(
        Flavour{"blanks", "20.5 71.25\n1000 -3\n"},
        Flavour{"tabs", "20.5\t71.25\t10.5\n1000\t-3\t-14\n"},
        Flavour{"comma", "20.5,71.25,10.5\n1000,-3,-14\n"},
        Flavour{"comma_blank", "20.5, 71.25, 10.5\n1000, -3, -14\n"},
        Flavour{"semicolon", "20.5;71.25;10.5\n1000;-3;-14"},
        Flavour{"semicolon_decimal_comma", "20,5;71,25;10,5\n1000;-3;-14"},
        Flavour{"tab_decimal_comma", "20,5\t71,25\n1000\t-3"},
        Flavour{"blank_decimal_comma", "20,5 71,25 10,5\n1000,0 -3,0 -14,0"},
        Flavour{"windows_lines", "20.5 71.25\r\n1000 -3\r\n"},
        Flavour{"old_lines", "20.5 71.25\r1000 -3\r"},
        Flavour{"byte_order_mark", "\xEF\xBB\xBF"
                                   "20.5 71.25\n1000 -3"},
        Flavour{
            "comments",
            "* measured\n# row A\n% x\n! y\n; z\n// v\n\"q\"\n20.5 71.25\n# middle\n1000 -3\n\n"},
        Flavour{"header", "Freq(Hz)  SPL(dB)  Phase\n20.5 71.25\n1000 -3"},
        Flavour{"kilohertz", "freq [kHz], dB\n0.0205,71.25\n1,-3"},
        Flavour{"exponent", "2.05e1 7.125E1\n+1e3 -3"},
        Flavour{"padded", "   20.5    71.25   \n  1000     -3  "},
        Flavour{"trailing_separator", "20.5,71.25,\n1000,-3,\n"}),
    [](const auto& tested) { return std::string(tested.param.name); });

TEST(ImportText, SaysHowItReadTheFile) {
    EXPECT_TRUE(imported("20,5;1\n30;2").decimal_comma);
    EXPECT_FALSE(imported("20.5;1\n30;2").decimal_comma);
    EXPECT_TRUE(imported("kHz\n1 2").kilohertz);
    EXPECT_FALSE(imported("1 2\n# kHz\n2 2").kilohertz)
        << "a remark among the data changes nothing";
    EXPECT_EQ(imported("1 2\n2 3").rows, 2u);
}

TEST(ImportText, TheUsersUnitWins) {
    EXPECT_EQ(import_text("kHz\n1 2", {FrequencyUnit::hz})->curve.frequency_hz[0], 1);
    EXPECT_EQ(import_text("1 2", {FrequencyUnit::khz})->curve.frequency_hz[0], 1000);
}

TEST(ImportText, SortsAndAveragesWithANote) {
    const auto result = imported("1000 2 170\n100 1 0\n1000 4 -170\n");
    EXPECT_EQ(result.curve.frequency_hz, (Numbers{100, 1000}));
    EXPECT_EQ(result.curve.magnitude_db, (Numbers{1, 3}));
    EXPECT_NEAR(std::abs(result.curve.phase_deg[1]), 180, 1e-9)
        << "phases are averaged as directions";
    ASSERT_EQ(result.notes.size(), 2u);
    EXPECT_NE(result.notes[0].find("line 2"), std::string::npos);
    EXPECT_TRUE(check(result.curve));
}

TEST(ImportText, LeavesOutZeroHertzWithANote) {
    const auto result = imported("0 5\n10 1\n20 2");
    EXPECT_EQ(result.curve.frequency_hz.size(), 2u);
    EXPECT_EQ(result.notes.size(), 1u);
}

struct Refusal {
    const char* name;
    std::string text;
    const char* place;
};

class Refusals : public testing::TestWithParam<Refusal> {};

TEST_P(Refusals, NameTheLine) {
    const auto result = import_text(GetParam().text);
    ASSERT_FALSE(result);
    EXPECT_EQ(result.error().place, GetParam().place) << to_text(result.error());
    EXPECT_FALSE(result.error().reason.empty());
    EXPECT_FALSE(result.error().way_out.empty());
}
INSTANTIATE_TEST_SUITE_P(
    Text, Refusals,
    testing::Values(Refusal{"empty", "", ""}, Refusal{"only_comments", "# a\n# b\n", ""},
                    Refusal{"prose", "Dear reader,\nthis is no curve.\n", ""},
                    Refusal{"nan", "10 1\n20 nan\n", "line 2"},
                    Refusal{"infinite", "10 1\n20 inf\n", "line 2"},
                    Refusal{"overflow", "10 1\n20 1e999\n", "line 2"},
                    Refusal{"text_among_numbers", "10 1\n20 2\nthe end\n", "line 3"},
                    Refusal{"fewer_columns", "10 1 2\n20 2\n", "line 2"},
                    Refusal{"more_columns", "10 1\n20 2 3 4 5\n", "line 2"},
                    Refusal{"one_column", "10\n20\n", "line 1"},
                    Refusal{"four_columns", "10 1 2 3\n", "line 1"},
                    Refusal{"negative_frequency", "# x\n-10 1\n", "line 2"},
                    Refusal{"thousands", "1.234.5 3\n", "line 1"},
                    Refusal{"binary", std::string("RIFF\0\0\0\0WAVE", 12), ""},
                    Refusal{"utf16", std::string("1\0000\0 \0001\0", 8), ""}),
    [](const auto& tested) { return std::string(tested.param.name); });

TEST(ImportText, ReadsAMillionRows) {
    std::string text = "Hz dB deg\n";
    for (int i = 1; i <= 1'000'000; ++i) {
        fmt::format_to(std::back_inserter(text), "{} {} {}\n", i * 0.02, (i % 100) * 0.1, i % 180);
    }
    const auto result = imported(text);
    EXPECT_EQ(result.curve.frequency_hz.size(), 1'000'000u);
    EXPECT_TRUE(result.notes.empty());
}

TEST(ImportText, FilesAreNamedInProblems) {
    const test::Scratch scratch;
    const auto good = import_text_file(scratch.write("Zenith row A.txt", "10 1\n20 2\n"));
    ASSERT_TRUE(good);
    EXPECT_EQ(good->curve.name, "Zenith row A");
    const auto bad = import_text_file(scratch.write("bad.txt", "10 1\nx\n"));
    EXPECT_EQ(bad.error().place, scratch.file("bad.txt").string() + ": line 2");
    EXPECT_FALSE(import_text_file(scratch.folder()));
}

// Whatever the bytes, the importer answers with a curve that holds or a problem.
TEST(ImportText, SurvivesMangledFiles) {
    const std::string good = "# kHz\n20,5;71,25;10\n30;2;3\n40;1;2\n";
    for (std::size_t cut = 0; cut <= good.size(); ++cut) {
        for (const char c : {'\0', ';', ',', '\xff', 'e', '\n', '-'}) {
            std::string mangled =
                good.substr(0, cut) + c + good.substr(std::min(cut + 1, good.size()));
            if (const auto result = import_text(mangled)) {
                EXPECT_TRUE(check(result->curve)) << mangled;
            } else {
                EXPECT_FALSE(result.error().reason.empty());
            }
        }
    }
}

} // namespace
} // namespace syntonon
