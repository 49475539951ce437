// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/position_names.h"

#include <algorithm>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

const std::vector<std::string> dome = {"Zenith", "Sunrise", "Sunset", "Sub left"};

PositionName first(std::string_view name) {
    return position_name(name, NameRule::channel_first, dome);
}

TEST(PositionNames, AKnownChannelIsFoundHoweverItIsWritten) {
    EXPECT_EQ(first("Zenith, row A"), (PositionName{"Zenith", "row A"}));
    EXPECT_EQ(first("zenith_row_B"), (PositionName{"Zenith", "row B"}));
    EXPECT_EQ(first("SUNSET-c"), (PositionName{"Sunset", "c"}));
    EXPECT_EQ(first("sub_left - seat 3"), (PositionName{"Sub left", "seat 3"}));
    EXPECT_EQ(first("Zenith"), (PositionName{"Zenith", "position"}));
}

TEST(PositionNames, AnUnknownOneIsTheWordBeforeTheFirstSign) {
    EXPECT_EQ(first("Zenithal row A"), (PositionName{"Zenithal", "row A"}));
    EXPECT_EQ(first("left_1"), (PositionName{"left", "1"}));
    EXPECT_EQ(first("average"), (PositionName{"", "average"}));
}

TEST(PositionNames, TheOtherRulesReadFromTheEndOrNotAtAll) {
    EXPECT_EQ(position_name("row A - Sunrise", NameRule::position_first, dome),
              (PositionName{"Sunrise", "row A"}));
    EXPECT_EQ(position_name("row_A_hall", NameRule::position_first, dome),
              (PositionName{"hall", "row A"}));
    EXPECT_EQ(position_name("mid_high", NameRule::channel_only, dome),
              (PositionName{"mid high", "position"}));
    EXPECT_EQ(position_name("zenith", NameRule::channel_only, dome),
              (PositionName{"Zenith", "position"}));
    EXPECT_EQ(position_name("Zenith, row A", NameRule::position_only, dome),
              (PositionName{"", "Zenith, row A"}));
}

TEST(PositionNames, TheLikelyRuleIsThatOfMostNames) {
    const auto likely = [](std::vector<std::string> names) { return likely_rule(names, dome); };
    EXPECT_EQ(likely({"zenith-a", "sunset-b", "noise"}), NameRule::channel_first);
    EXPECT_EQ(likely({"a zenith", "b sunset"}), NameRule::position_first);
    EXPECT_EQ(likely({"hall left 1", "hall left 2"}), NameRule::channel_first);
    EXPECT_EQ(likely({"seat1", "seat2"}), NameRule::position_only);
    EXPECT_EQ(likely({"left 1"}), NameRule::position_only);
}

TEST(PositionNames, NumbersAreSortedAsNumbers) {
    std::vector<std::string> names = {"row 10", "Row 2", "row 1", "row 02b", "row"};
    std::ranges::sort(names, comes_before);
    EXPECT_EQ(names, (std::vector<std::string>{"row", "row 1", "Row 2", "row 02b", "row 10"}));
    EXPECT_FALSE(comes_before("a", "a"));
}

TEST(PositionNames, ATakenNameGetsANumber) {
    const std::vector<std::string> taken = {"row A", "row A (2)"};
    EXPECT_EQ(free_name("row A", taken), "row A (3)");
    EXPECT_EQ(free_name("row B", taken), "row B");
}

TEST(PositionName, TheNextOneFollows) {
    EXPECT_EQ(next_position_name("row A"), "row B");
    EXPECT_EQ(next_position_name("A"), "B");
    EXPECT_EQ(next_position_name("seat 9"), "seat 10");
    EXPECT_EQ(next_position_name("3"), "4");
    EXPECT_EQ(next_position_name("row Z"), "row Z");
    EXPECT_EQ(next_position_name("balcony"), "balcony");
    EXPECT_EQ(next_position_name("STAGE"), "STAGE");
    EXPECT_EQ(next_position_name(""), "");
    EXPECT_EQ(next_position_name("9999999999999999"), "9999999999999999") << "no number we can";
}

} // namespace
} // namespace syntonon
