// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/layout.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

// Each key must lead back to the value it came from: files depend on it.
template <class T>
void expect_round_trip(std::initializer_list<T> values,
                       std::optional<T> (*from_key)(std::string_view)) {
    for (const T value : values) {
        EXPECT_EQ(from_key(key_of(value)), value) << key_of(value);
    }
    EXPECT_FALSE(from_key("").has_value());
    EXPECT_FALSE(from_key("CSV").has_value()) << "keys are lower case";
}

TEST(Layout, KeysLeadBackToTheirValues) {
    expect_round_trip({FileFormat::csv, FileFormat::json, FileFormat::c_header},
                      file_format_from_key);
    expect_round_trip({NumberType::real64, NumberType::real32}, number_type_from_key);
    expect_round_trip({FeedbackSign::subtracted, FeedbackSign::added}, feedback_sign_from_key);
    expect_round_trip({Normalisation::a0_one, Normalisation::b0_one, Normalisation::a0_half},
                      normalisation_from_key);
}

TEST(Layout, EveryFormatHasItsOwnExtension) {
    EXPECT_EQ(extension_of(FileFormat::csv), ".csv");
    EXPECT_EQ(extension_of(FileFormat::json), ".json");
    EXPECT_EQ(extension_of(FileFormat::c_header), ".h");
}

TEST(Layout, OrdersAreTextAndBack) {
    const std::vector<Term> order = {Term::gain, Term::a2, Term::a1, Term::b2,
                                     Term::b1,   Term::b0, Term::a0};
    EXPECT_EQ(order_text(order), "gain a2 a1 b2 b1 b0 a0");
    EXPECT_EQ(order_from_text(order_text(order)).value(), order);
    EXPECT_TRUE(order_from_text("  ")->empty());
    const auto wrong = order_from_text("b0 b9");
    ASSERT_FALSE(wrong);
    EXPECT_NE(wrong.error().reason.find("b9"), std::string::npos);
    EXPECT_NE(wrong.error().way_out.find("gain"), std::string::npos)
        << "the way out lists what there is";
}

TEST(Layout, SaysWhichTermIsMissing) {
    CoefficientLayout layout;
    layout.order = {Term::b0, Term::b1, Term::b2, Term::a2};
    EXPECT_EQ(check(layout).error().reason, "a1 is missing");
    layout.order = {Term::b0, Term::b1, Term::b2, Term::a1, Term::a2, Term::a2};
    EXPECT_EQ(check(layout).error().reason, "a2 stands twice");
    layout.normalisation = Normalisation::b0_one;
    layout.order = {Term::b1, Term::b2, Term::a1, Term::a2};
    EXPECT_EQ(check(layout).error().reason, "gain is missing");
    layout.order.push_back(Term::gain);
    EXPECT_TRUE(check(layout)) << "b0 is 1 and may be left out";
}

} // namespace
} // namespace syntonon
