// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/quantity.h"

#include "core/base/units.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

constexpr QuantityContext at_48k{48000, 1000};

double hz(std::string_view text) {
    return parse_quantity(text, Dimension::frequency, at_48k).value();
}

TEST(Quantity, ReadsFrequenciesInEveryUnit) {
    EXPECT_DOUBLE_EQ(hz("870"), 870);
    EXPECT_DOUBLE_EQ(hz("1k"), 1000);
    EXPECT_DOUBLE_EQ(hz("1.2 kHz"), 1200);
    EXPECT_DOUBLE_EQ(hz("1,2 kHz"), 1200);
    EXPECT_DOUBLE_EQ(hz("2*pi*750 rad/s"), 750);
    EXPECT_DOUBLE_EQ(hz("0.25 fs"), 12000);
    EXPECT_DOUBLE_EQ(hz("0.5 nyquist"), 12000);
    EXPECT_DOUBLE_EQ(hz("pi/2 rad/sample"), 12000);
    EXPECT_DOUBLE_EQ(hz("  (200 + 50) * 2 Hz "), 500);
}

TEST(Quantity, ActsOnTheCurrentValue) {
    EXPECT_DOUBLE_EQ(hz("x0.5"), 500);
    EXPECT_DOUBLE_EQ(hz("*2"), 2000);
    EXPECT_DOUBLE_EQ(hz("/4"), 250);
}

TEST(Quantity, ReadsLevelsTimesAnglesAndPlainNumbers) {
    const auto read = [](std::string_view text, Dimension dimension) {
        return parse_quantity(text, dimension, at_48k).value();
    };
    EXPECT_DOUBLE_EQ(read("-6 dB", Dimension::level), -6);
    EXPECT_DOUBLE_EQ(read("−6", Dimension::level), -6);
    EXPECT_NEAR(read("0.98 ratio", Dimension::level), -0.17547848615, 1e-10);
    EXPECT_NEAR(read("1.02 ratio", Dimension::level), 0.17200343523, 1e-10);
    EXPECT_DOUBLE_EQ(read("2.1 ms", Dimension::time), 0.0021);
    EXPECT_DOUBLE_EQ(read("12 samples", Dimension::time), 12.0 / 48000);
    EXPECT_DOUBLE_EQ(read("pi rad", Dimension::angle), 180);
    EXPECT_DOUBLE_EQ(read("1/3 oct", Dimension::octaves), 1.0 / 3);
}

TEST(Quantity, RefusesWithWhatItDidNotUnderstand) {
    for (const char* text : {"", "abc", "1 +", "(1", "1)", "5 parsecs", "1/0", "x", "x0", "nan",
                             "inf", "1e999", "--", "2 dB"}) {
        const auto read = parse_quantity(text, Dimension::frequency, at_48k);
        ASSERT_FALSE(read.has_value()) << text;
        EXPECT_FALSE(read.error().reason.empty()) << text;
        EXPECT_FALSE(read.error().way_out.empty()) << text;
    }
    EXPECT_FALSE(parse_quantity("-1 ratio", Dimension::level, at_48k).has_value());
    EXPECT_FALSE(
        parse_quantity(std::string(100000, '('), Dimension::frequency, at_48k).has_value());
    EXPECT_FALSE(
        parse_quantity(std::string(100000, '-') + "1", Dimension::frequency, at_48k).has_value());
}

TEST(Quantity, NamesTheUnitsThatItKnows) {
    const auto read = parse_quantity("5 parsecs", Dimension::frequency, at_48k);
    EXPECT_NE(read.error().way_out.find("khz"), std::string::npos);
}

} // namespace
} // namespace syntonon
