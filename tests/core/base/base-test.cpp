// Problems, units, number text, base64, shared values.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/base64.h"
#include "core/base/number_text.h"
#include "core/base/problem.h"
#include "core/base/shared_value.h"
#include "core/base/units.h"

#include <cmath>
#include <gtest/gtest.h>
#include <limits>

namespace syntonon {
namespace {

TEST(Problem, IsOneLineWithPlaceReasonAndWayOut) {
    EXPECT_EQ(to_text({"a.b", "is wrong", "mend it"}), "a.b: is wrong; mend it");
    EXPECT_EQ(to_text({"", "is\nwrong", ""}), "is\\nwrong");
    EXPECT_EQ(to_text({"k\ny", "\x1b[31m and \x7f", "\xc2\x9b and \xe2\x80\xae"}),
              "k\\ny: \\x1b[31m and \\x7f; \\u009b and \\u202e");
}

TEST(Problem, LongValuesAndKeysAreCut) {
    const std::string value(500, 'x'), wide = [] {
        std::string text;
        for (int i = 0; i < 500; ++i) {
            text += "é";
        }
        return text;
    }();
    EXPECT_EQ(to_text({"a", "“" + value + "” is wrong", ""}),
              "a: “" + value.substr(0, 120) + "…” is wrong");
    EXPECT_EQ(to_text({"a", "“" + wide + "” is wrong", ""}),
              "a: “" + wide.substr(0, 240) + "…” is wrong");
    EXPECT_EQ(to_text({"a." + value + ".b", "is wrong", ""}),
              "a." + value.substr(0, 120) + "….b: is wrong");
    EXPECT_LT(to_text({"", std::string(100'000, 'x'), ""}).size(), 2010u);
}

TEST(Problem, GathersItsPlaceFromInsideOut) {
    Problem problem{"q", "is wrong", ""};
    problem = within("stages[2]", problem);
    problem = within("channels[0]", problem);
    EXPECT_EQ(problem.place, "channels[0].stages[2].q");
    EXPECT_EQ(within("corridor", Problem{"[1].to_hz", "", ""}).place, "corridor[1].to_hz");
    EXPECT_EQ(in_file("dome.syntonon", problem).place, "dome.syntonon: channels[0].stages[2].q");
}

TEST(Units, ConvertBothWays) {
    EXPECT_NEAR(db_from_ratio(10), 20, 1e-12);
    EXPECT_NEAR(ratio_from_db(-6.0205999132796239), 0.5, 1e-15);
    EXPECT_DOUBLE_EQ(rad_per_sample_from_hz(12000, 48000), pi / 2);
    EXPECT_DOUBLE_EQ(hz_from_rad_per_sample(pi, 48000), 24000);
    EXPECT_DOUBLE_EQ(hz_from_rad_per_s(rad_per_s_from_hz(63)), 63);
    EXPECT_DOUBLE_EQ(octaves_between(250, 1000), 2);
    EXPECT_DOUBLE_EQ(wrapped_deg(540), 180);
    EXPECT_DOUBLE_EQ(wrapped_deg(-190), 170);
    EXPECT_DOUBLE_EQ(wrapped_deg(-180), 180);
}

TEST(NumberText, ReadsOnlyWholeNumbers) {
    EXPECT_EQ(number_from_text("+1.5e3"), 1500.0);
    EXPECT_FALSE(number_from_text("1.5x"));
    EXPECT_FALSE(number_from_text("+-1"));
    EXPECT_FALSE(number_from_text(""));
}

TEST(NumberText, WritesForPeople) {
    EXPECT_EQ(frequency_text(870), "870 Hz");
    EXPECT_EQ(frequency_text(2412), "2.41 kHz");
    EXPECT_EQ(frequency_text(16000), "16 kHz");
    EXPECT_EQ(frequency_range_text(40, 250), "40–250 Hz");
    EXPECT_EQ(frequency_range_text(300, 2412), "0.3–2.41 kHz");
    EXPECT_EQ(frequency_range_text(300, 2412, 4), "0.3–2.412 kHz");
    EXPECT_EQ(time_text(63.54), "63.5 s");
    EXPECT_EQ(time_text(0.00116), "1.16 ms");
    EXPECT_EQ(time_text(-0.020833), "-20.8 ms");
    EXPECT_EQ(time_text(1.0 / 48000), "20.8 µs");
    EXPECT_EQ(time_text(0), "0 ms");
    EXPECT_EQ(frequency_text(61.69), "61.7 Hz");
    EXPECT_EQ(signed_text(-4.6, 2), "−4.60");
    EXPECT_EQ(signed_text(3.2, 1), "+3.2");
    EXPECT_EQ(signed_text(-0.001, 1), "0.0");
}

TEST(NumberText, SeventeenDigitsAndShortestReadBack) {
    for (const double value : {0.1, 1.0 / 3, 1e-300, -2.0000000000000004, 1.7976931348623157e308}) {
        EXPECT_EQ(number_from_text(text_with_digits(value, 17)), value);
        EXPECT_EQ(number_from_text(shortest_text(value)), value);
    }
}

TEST(Base64, KeepsEveryBit) {
    // RFC 4648: eight zero bytes, then the double 1.0 = 00 00 00 00 00 00 f0 3f.
    EXPECT_EQ(base64_from_doubles({0.0}), "AAAAAAAAAAA=");
    EXPECT_EQ(base64_from_doubles({1.0}), "AAAAAAAA8D8=");
    const std::vector<double> values = {0.1, -0.0, 1e-308, 12345.678,
                                        std::numeric_limits<double>::max()};
    const auto back = doubles_from_base64(base64_from_doubles(values));
    ASSERT_TRUE(back.has_value());
    ASSERT_EQ(back->size(), values.size());
    for (std::size_t i = 0; i < values.size(); ++i) {
        EXPECT_EQ((*back)[i], values[i]);
    }
    EXPECT_TRUE(std::signbit((*back)[1]));
}

TEST(Base64, RefusesWhatIsNoWholeNumberOfDoubles) {
    for (const char* text : {"A", "AAAA", "AAAAAAAAAA!=", "????????????"}) {
        EXPECT_FALSE(doubles_from_base64(text).has_value()) << text;
    }
    EXPECT_TRUE(doubles_from_base64("")->empty());
}

TEST(SharedValue, CopiesOnlyWhenEdited) {
    SharedValue<std::string> a(std::string("one"));
    SharedValue<std::string> b = a;
    EXPECT_TRUE(a.same_as(b));
    b.edit() = "two";
    EXPECT_FALSE(a.same_as(b));
    EXPECT_EQ(*a, "one");
    const std::string* before = &*b;
    b.edit() = "three";
    EXPECT_EQ(&*b, before) << "its only owner edits it in place";
}

} // namespace
} // namespace syntonon
