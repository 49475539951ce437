// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/json.h"
#include "core/study/json_reader.h"

#include <functional>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

class Reading : public testing::Test {
protected:
    ObjectReader reader(const char* text) {
        json = checked_json(text).value();
        log = {};
        return ObjectReader(json, "top", log);
    }
    std::string place() const { return log.problem ? log.problem->place : "fine"; }

    JsonView json;
    ReadLog log;
};

TEST_F(Reading, GivesWhatIsThere) {
    ObjectReader r = reader(
        R"({"t": "text", "n": 1.5, "i": -3, "b": true, "a": [1, 2.5], "s": ["x", "y"], "o": {"k": 1}})");
    EXPECT_EQ(r.text("t"), "text");
    EXPECT_EQ(r.number("n"), 1.5);
    EXPECT_EQ(r.integer_or("i", 0), -3);
    EXPECT_TRUE(r.boolean_or("b", false));
    EXPECT_EQ(r.numbers("a"), (std::vector<double>{1, 2.5}));
    EXPECT_EQ(r.texts("s"), (std::vector<std::string>{"x", "y"}));
    EXPECT_EQ(r.object("o").number("k"), 1);
    EXPECT_EQ(place(), "fine");
    EXPECT_TRUE(r.unknown().empty());
}

TEST_F(Reading, UsesDefaultsForWhatMayBeAbsent) {
    ObjectReader r = reader("{}");
    EXPECT_EQ(r.text_or("t", "other"), "other");
    EXPECT_EQ(r.number_or("n", 7), 7);
    EXPECT_FALSE(r.optional_number("n").has_value());
    EXPECT_EQ(r.integer_or("i", 4), 4);
    EXPECT_TRUE(r.boolean_or("b", true));
    EXPECT_TRUE(r.numbers("a").empty());
    EXPECT_TRUE(r.texts("s").empty());
    int calls = 0;
    r.each("list", [&](ObjectReader) { ++calls; });
    EXPECT_EQ(calls, 0);
    EXPECT_EQ(place(), "fine");
}

TEST_F(Reading, NamesWhatIsMissing) {
    reader("{}").text("t");
    EXPECT_EQ(place(), "top.t");
    reader("{}").number("n");
    EXPECT_EQ(place(), "top.n");
    reader("{}").object("o").number("k");
    EXPECT_EQ(place(), "top.o") << "the first problem stays";
}

TEST_F(Reading, NamesWhatHasTheWrongType) {
    const auto check = [&](const char* text, const std::function<void(ObjectReader&)>& read) {
        ObjectReader r = reader(text);
        read(r);
        return place();
    };
    EXPECT_EQ(check(R"({"t": 5})", [](auto& r) { r.text("t"); }), "top.t");
    EXPECT_EQ(check(R"({"n": "5"})", [](auto& r) { r.number("n"); }), "top.n");
    EXPECT_EQ(check(R"({"n": null})", [](auto& r) { r.number("n"); }), "top.n");
    EXPECT_EQ(check(R"({"i": 1.5})", [](auto& r) { r.integer_or("i", 0); }), "top.i");
    EXPECT_EQ(check(R"({"i": 1e300})", [](auto& r) { r.integer_or("i", 0); }), "top.i");
    EXPECT_EQ(check(R"({"b": 1})", [](auto& r) { r.boolean_or("b", false); }), "top.b");
    EXPECT_EQ(check(R"({"a": 1})", [](auto& r) { r.numbers("a"); }), "top.a");
    EXPECT_EQ(check(R"({"a": [1, "x"]})", [](auto& r) { r.numbers("a"); }), "top.a[1]");
    EXPECT_EQ(check(R"({"a": {"f64": 5}})", [](auto& r) { r.numbers("a"); }), "top.a");
    EXPECT_EQ(check(R"({"s": ["x", 1]})", [](auto& r) { r.texts("s"); }), "top.s[1]");
    EXPECT_EQ(check(R"({"l": {}})", [](auto& r) { r.each("l", [](ObjectReader) {}); }), "top.l");
    EXPECT_EQ(check(R"({"l": [{}, 3]})", [](auto& r) { r.each("l", [](ObjectReader) {}); }),
              "top.l[1]");
}

TEST_F(Reading, PathsReachIntoNestedLists) {
    ObjectReader r = reader(R"({"l": [{"m": [{"x": 1}, {"x": "no"}]}]})");
    r.each("l", [](ObjectReader outer) {
        outer.each("m", [](ObjectReader inner) { inner.number("x"); });
    });
    EXPECT_EQ(place(), "top.l[0].m[1].x");
}

TEST_F(Reading, KeepsWhatNobodyAskedFor) {
    ObjectReader r = reader(R"({"known": 1, "odd": {"deep": [true]}})");
    r.number("known");
    const UnknownKeys unknown = r.unknown();
    EXPECT_EQ(unknown.members(), R"("odd":{"deep":[true]})");
    ASSERT_EQ(log.warnings.size(), 1u);
    EXPECT_TRUE(log.warnings[0].starts_with("top.odd"));
    Json written;
    written.set("known", 1).set_unknown(unknown);
    EXPECT_EQ(written.text(), "{\n \"known\": 1,\n \"odd\": {\n  \"deep\": [\n   true\n  ]\n }\n}");
}

TEST_F(Reading, WhatIsKeptIsNotWrittenAnew) {
    ObjectReader r = reader("{\"a \\\" b\": [1.50,\n \"x  \\\\\", {} ]}");
    EXPECT_EQ(r.unknown().members(), "\"a \\\" b\":[1.50,\"x  \\\\\",{}]");
}

TEST_F(Reading, CountsWarningsThatNobodyWouldRead) {
    for (int i = 0; i < 1500; ++i) {
        log.warn({"here", "it is odd", "look"});
    }
    EXPECT_EQ(log.warnings.size(), 1000u);
    EXPECT_EQ(log.more_warnings, 500u);
}

TEST(ParseJson, SaysTheLineAndColumn) {
    EXPECT_EQ(checked_json("{\n \"a\": 1,\n x\n}").error().place, "line 3, column 2");
    EXPECT_EQ(checked_json("").error().reason, "the file is empty");
    EXPECT_NE(checked_json("{\"a\": [1, 2").error().reason.find("ends before"), std::string::npos);
    EXPECT_FALSE(checked_json("{} trailing"));
    EXPECT_FALSE(checked_json(std::string(129, '[') + std::string(129, ']')));
    EXPECT_TRUE(checked_json(std::string(128, '[') + std::string(128, ']')));
    EXPECT_TRUE(checked_json(R"(["[[[[[[ brackets in text do not nest \" ]"])"));
}

} // namespace
} // namespace syntonon
