// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/written_numbers.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

// "b0: 1 | a: 1 -0.9"
std::string rows_of(std::string_view text) {
    const auto numbers = written_numbers(text);
    if (!numbers) {
        return "refused: " + to_text(numbers.error());
    }
    std::string all;
    for (const WrittenRow& row : numbers->rows) {
        all += all.empty() ? "" : " | ";
        all += row.name.empty() ? "" : row.name + ":";
        for (const WrittenNumber& number : row.cells) {
            all += (all.empty() || all.back() == ' ' ? "" : " ") + number.text;
        }
    }
    return all;
}

TEST(WrittenNumbers, ALineIsARow) {
    EXPECT_EQ(rows_of("1 2 3\n4,5,6;\n\n# what\n7\t8|9 // end"), "1 2 3 | 4 5 6 | 7 8 9");
    EXPECT_EQ(rows_of("[1 2 3; 4 5 6]"), "1 2 3 | 4 5 6");
    EXPECT_EQ(rows_of("1 2 /* 3\n4 */ 5"), "1 2 | 5");
}

TEST(WrittenNumbers, CommasAreDecimalWhereNothingElseFits) {
    EXPECT_EQ(rows_of("0,5;1,25;-3\n1;2;3"), "0.5 1.25 -3 | 1 2 3");
    EXPECT_EQ(rows_of("1,0,-1"), "1 0 -1");
    EXPECT_EQ(rows_of("1,5 2.5"), "1 5 2.5");
}

TEST(WrittenNumbers, NamesAreHeardHoweverTheyStand) {
    EXPECT_EQ(rows_of("b0 = 0.5\nb[1]=-1e-3\n a_1: 2"), "b0: 0.5 | b1: -1e-3 | a1: 2")
        << "also with the joint of a_1 left out";
    EXPECT_EQ(rows_of("Numerator: 1 2 1\nDenominator: 1 -0.9"), "b: 1 2 1 | a: 1 -0.9");
    EXPECT_EQ(rows_of("Numerator coefficients\n1\n2\nDenominator coefficients\n3"),
              "b: 1 | b: 2 | a: 3");
    EXPECT_EQ(rows_of("Section 1:\nb0 0.5, b1 1\nSection 2: 7 8 9 1 2"),
              "b0: 0.5 | b1: 1 | 7 8 9 1 2");
    EXPECT_EQ(rows_of("Sample rate: 44100 Hz\n1 2"), "rate: 44100 | 1 2");
}

TEST(WrittenNumbers, OtherNamesAreLeftOutAndSaid) {
    const auto numbers = written_numbers("cutoff = 250.5\nb0 = 1");
    ASSERT_TRUE(numbers);
    EXPECT_EQ(numbers->rows.size(), 1u);
    EXPECT_EQ(numbers->left_out, std::vector<std::string>{"cutoff"});
}

TEST(WrittenNumbers, ArraysOfC) {
    EXPECT_EQ(rows_of("static const float low_b[3] = {0.5, -1, /* 9 */ 2};\n"
                      "double low_a[] = {1, 0.25};"),
              "b: 0.5 -1 2 | a: 1 0.25");
    EXPECT_EQ(rows_of("#define N 2\nnamespace x {\nconst int n = 2;\nint f(int n) { return 7; }\n"
                      "const double sos[N][3] = {{1, 2, 3},\n {4, 5, 6}};\n}"),
              "1 2 3 | 4 5 6");
    EXPECT_EQ(rows_of("struct S s = {.b0 = 0.5, .a1 = -2, .order = 2};"), "b0: 0.5 | a1: -2");
    EXPECT_EQ(rows_of("{{1,2},{3,4}}"), "1 2 | 3 4");
    EXPECT_EQ(rows_of("float x[] = {0.1f};"), "0.10000000149011612")
        << "the digits of a float stand for that float";
}

TEST(WrittenNumbers, NamesAndNumbersOfOtherNotations) {
    EXPECT_EQ(rows_of(R"({"name": "Low 5", "sample_rate": 48000, "b": [1, 2], "a": [1, 0.5]})"),
              "rate: 48000 | b: 1 2 | a: 1 0.5");
    EXPECT_EQ(rows_of(R"([{"b0": 1, "q": 3}, {"b0": 2}])"), "b0: 1 | b0: 2")
        << "braces within a list";
}

TEST(WrittenNumbers, WordsOfAMemory) {
    EXPECT_EQ(rows_of("7FFF\n8000\n0000"), "0x7fff | 0x8000 | 0x0000");
    EXPECT_EQ(rows_of("0x7FFFu 0X12"), "0x7fff 0x12");
    EXPECT_EQ(rows_of("1000\n2000"), "1000 | 2000") << "nothing says that they are words";
}

TEST(WrittenNumbers, KeepsWhatCommentsSay) {
    const auto numbers =
        written_numbers("# order: b0 b1\n# two's complement, 16 bits; value = word "
                        "times 2^-14\n0x4000 0x2000\n# taps; IEEE 754, float32\n"
                        "0x3f800000\n");
    ASSERT_TRUE(numbers);
    EXPECT_EQ(numbers->said.at("order"), "b0 b1");
    ASSERT_EQ(numbers->rows.size(), 2u);
    EXPECT_NE(numbers->rows[0].words.find("2^-14"), std::string::npos);
    EXPECT_EQ(numbers->rows[1].name, "taps");
    EXPECT_NE(numbers->rows[1].words.find("float32"), std::string::npos);
}

TEST(WrittenNumbers, TitlesNameColumns) {
    const auto numbers = written_numbers("section,b0,b1,b2,a1,a2\n1,1,2,3,4,5\n");
    ASSERT_TRUE(numbers);
    EXPECT_EQ(numbers->titles.size(), 6u);
    EXPECT_EQ(numbers->titles[1], "b0");
    EXPECT_EQ(numbers->rows.size(), 1u);
}

TEST(WrittenNumbers, RefusesWithTheLine) {
    EXPECT_EQ(rows_of("1\n1.2.3"), "refused: line 2: “1.2.3” is not a number; leave it out");
    EXPECT_EQ(rows_of("float x[] = {1,\n{2, two}};"),
              "refused: line 2: “two” is not a number; write its number");
    EXPECT_EQ(rows_of("x = {1,\n{2}"),
              "refused: line 1: a brace is opened and not closed; the file may have been cut off");
    EXPECT_NE(rows_of("x = {1}}").find("closes what was not opened"), std::string::npos);
    EXPECT_NE(rows_of("# nothing\n").find("holds no numbers"), std::string::npos);
    EXPECT_NE(rows_of("0xg1").find("not a number"), std::string::npos);
}

} // namespace
} // namespace syntonon
