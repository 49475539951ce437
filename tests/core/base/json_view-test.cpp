// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/json_view.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

using Kind = JsonView::Kind;

TEST(JsonView, LooksIntoEveryKind) {
    const std::string text =
        "\n {\"n\" : -2.5e-3,\t\"t\": \"a \\\"b\\\" \\u00e9\", \"l\": [1 , [2,\"]\"], {}], "
        "\"o\": {\"k,\": true}, \"z\": null} ";
    const auto view = checked_json(text);
    ASSERT_TRUE(view) << to_text(view.error());
    ASSERT_EQ(view->kind(), Kind::object);
    const auto members = view->members();
    ASSERT_EQ(members.size(), 5u);
    EXPECT_EQ(members[0].key, "n");
    EXPECT_EQ(members[0].value.number(), -2.5e-3);
    EXPECT_EQ(members[1].value.text(), "a \"b\" é");
    EXPECT_EQ(members[2].value.element_count(), 3u);
    EXPECT_EQ(members[2].value.elements()[1].json(), "[2,\"]\"]");
    EXPECT_EQ(members[2].value.elements()[2].kind(), Kind::object);
    EXPECT_EQ(members[3].value.members()[0].key, "k,");
    EXPECT_TRUE(members[3].value.members()[0].value.boolean());
    EXPECT_EQ(members[4].value.kind(), Kind::null);
    EXPECT_STREQ(members[4].value.kind_name(), "null");
}

TEST(JsonView, EmptyThingsAreEmpty) {
    EXPECT_TRUE(checked_json("{ }")->members().empty());
    EXPECT_TRUE(checked_json("[\n]")->elements().empty());
    EXPECT_EQ(checked_json("\"\"")->text(), "");
    EXPECT_TRUE(JsonView().members().empty());
}

TEST(JsonView, NumbersAreReadToTheLastBit) {
    for (const double value : {0.1, 51.870000000000005, 1e-310, -1.7976931348623157e308, 3.0}) {
        char exact[40];
        std::snprintf(exact, sizeof exact, "%.17g", value);
        const std::string json = std::string("[") + exact + "]";
        EXPECT_EQ(checked_json(json)->elements()[0].number(), value) << exact;
    }
}

TEST(JsonView, AKeyThatStandsTwiceIsRefusedWithItsPlace) {
    const auto twice = checked_json(R"({"a": [{"b": 1}, {"c": 1, "b": 2, "c": 3}]})");
    ASSERT_FALSE(twice);
    EXPECT_EQ(to_text(twice.error()), "a[1].c: this key stands twice; keep one of them");
    EXPECT_TRUE(checked_json(R"({"a": {"b": 1}, "b": {"a": 2}})")) << "each object has its own";
}

TEST(JsonView, AnObjectHasABoundedNumberOfKeys) {
    const auto with_keys = [](int count) {
        std::string text = "{";
        for (int i = 0; i < count; ++i) {
            text += (i > 0 ? ",\"k" : "\"k") + std::to_string(i) + "\":0";
        }
        return "[" + text + "}]";
    };
    EXPECT_TRUE(checked_json(with_keys(10'000)));
    EXPECT_EQ(checked_json(with_keys(10'001)).error().reason, "an object has more than 10000 keys");
}

TEST(JsonView, SaysWhereItStopsBeingJson) {
    EXPECT_EQ(checked_json("{\n \"a\": 1,\n x\n}").error().place, "line 3, column 2");
    EXPECT_FALSE(checked_json("[1e999]"));
    EXPECT_FALSE(checked_json("{\"a\": 01}"));
    EXPECT_FALSE(checked_json("[1,]"));
    EXPECT_FALSE(checked_json("\"\xff\""));
}

} // namespace
} // namespace syntonon
