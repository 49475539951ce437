// Parts of networks against filters put together by hand.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/part_curves.h"

#include "core/filter/form.h"
#include "core/study/kinds.h"
#include "tests/support/rate.h"

#include <array>
#include <gtest/gtest.h>
#include <map>

namespace syntonon {
namespace {

Filter leaky(double a) {
    return Filter(Cascade{{Biquad{1 - a, 0, 0, -a, 0}}});
}

Stage stage_with(const std::string& id, StageSpec spec) {
    Stage made;
    made.id = id;
    made.spec = std::move(spec);
    return made;
}

Chain chain(const std::vector<Stage>& stages) {
    Chain made;
    for (const Stage& one : stages) {
        made.emplace_back(one);
    }
    return made;
}

void expect_same(const std::optional<Filter>& got, const Filter& wanted) {
    ASSERT_TRUE(got);
    for (const double hz : {0.0, 30.0, 999.0, 7777.0, 24000.0}) {
        const auto a = Probe(*got, rate).value(hz).h, b = Probe(wanted, rate).value(hz).h;
        EXPECT_NEAR(std::abs(a - b), 0, 1e-12 * (1 + std::abs(b))) << hz;
    }
}

// a, then a split of (b) and (c, d), then a loop with e inside and f on its way back.
class Parts : public testing::Test {
protected:
    Parts() {
        SplitSpec split;
        split.branches[0].factor = 0.5;
        split.branches[0].stages = chain({stage_with("b", GainSpec{})});
        split.branches[1].factor = -2;
        split.branches[1].stages =
            chain({stage_with("c", GainSpec{}), stage_with("d", GainSpec{})});
        LoopSpec loop;
        loop.forward = chain({stage_with("e", GainSpec{})});
        loop.feedback = {0.25, chain({stage_with("f", GainSpec{})})};
        RepeatSpec repeat;
        repeat.count = 3;
        repeat.stages = chain({stage_with("g", GainSpec{})});
        all = chain({stage_with("a", GainSpec{}), stage_with("split", split),
                     stage_with("loop", loop), stage_with("repeat", repeat)});
        double pole = 0.1;
        for (const char* id : {"a", "b", "c", "d", "e", "f", "g"}) {
            filters.emplace(id, leaky(pole += 0.1));
        }
        filters.emplace("split", Filter(ParallelSum{{{0.5, of("b")},
                                                     {-2, series(std::array{of("c"), of("d")})}}}));
        filters.emplace("loop", closed_loop({of("e"), 0.25, of("f")}).value());
        filters.emplace("repeat", repeated(of("g"), 3));
        filter_of = [this](const Stage& s) { return std::optional(of(s.id)); };
    }
    Filter of(const std::string& id) const { return filters.at(id); }
    std::optional<Filter> together(const std::set<std::string, std::less<>>& ids) const {
        return filter_of_parts(all, ids, filter_of);
    }

    Chain all;
    std::map<std::string, Filter> filters;
    FilterOfStage filter_of;
};

TEST_F(Parts, TogetherAreWhatTheyAreWhereTheyStand) {
    expect_same(together({"a"}), of("a"));
    expect_same(together({"a", "split"}), series(std::array{of("a"), of("split")}));
    expect_same(together({"c", "d"}), series(std::array{Filter(Gain{-2}), of("c"), of("d")}));
    expect_same(together({"b", "d"}), Filter(ParallelSum{{{0.5, of("b")}, {-2, of("d")}}}));
    expect_same(together({"a", "e"}), series(std::array{of("a"), of("e")}));
    expect_same(together({"e", "f"}), series(std::array{Filter(Gain{0.25}), of("e"), of("f")}));
    expect_same(together({"g"}), repeated(of("g"), 3));
    EXPECT_FALSE(together({}));
    EXPECT_FALSE(together({"nowhere"}));
}

TEST_F(Parts, OneStageIsReplacedAtAnyDepth) {
    expect_same(filter_with(all, "loop", of("e"), filter_of),
                series(std::array{of("a"), of("split"), of("e"), of("repeat")}));
    const Filter other =
        Filter(ParallelSum{{{0.5, of("b")}, {-2, series(std::array{Filter(Delay{2}), of("d")})}}});
    expect_same(filter_with(all, "c", Filter(Delay{2}), filter_of),
                series(std::array{of("a"), other, of("loop"), of("repeat")}));
    EXPECT_FALSE(filter_with(all, "nowhere", Filter(), filter_of));
    all[1].edit().enabled = false;
    EXPECT_FALSE(filter_with(all, "c", Filter(), filter_of)) << "it is off with what holds it";
    expect_same(filter_with(all, "a", Filter(), filter_of),
                series(std::array{of("loop"), of("repeat")}));
}

TEST_F(Parts, OfALoopMakeTheLoop) {
    const auto curves = part_curves(of("loop"));
    ASSERT_EQ(curves.size(), 3u);
    EXPECT_EQ(curves[0].key, "open_loop");
    expect_same(curves[0].filter, series(std::array{Filter(Gain{0.25}), of("e"), of("f")}));
    expect_same(series(std::array{curves[1].filter, curves[2].filter}), of("loop"));
}

TEST_F(Parts, OfASplitMakeItsSumAndDifference) {
    const auto curves = part_curves(of("split"));
    ASSERT_EQ(curves.size(), 3u);
    expect_same(Filter(ParallelSum{{{1, curves[0].filter}, {1, curves[1].filter}}}), of("split"));
    expect_same(curves[2].filter,
                Filter(ParallelSum{{{1, curves[0].filter}, {-1, curves[1].filter}}}));
    EXPECT_TRUE(part_curves(of("a")).empty());
}

} // namespace
} // namespace syntonon
