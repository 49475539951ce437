// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/chain.h"

#include "core/base/units.h"
#include "core/study/designed_chain.h"
#include "core/study/kinds.h"
#include "core/study/study_json.h"

#include <cmath>
#include <gtest/gtest.h>
#include <set>

namespace syntonon {
namespace {

Stage gain_stage(std::string id, StageSpec spec = GainSpec{}) {
    Stage made;
    made.id = std::move(id);
    made.spec = std::move(spec);
    return made;
}

// a, split( b, split( c ), d | e | ), f
Chain tree() {
    SplitSpec inner;
    inner.branches[0].stages = {gain_stage("c", GainSpec{-6, false, {}})};
    inner.branches[1].factor = 0.5;
    SplitSpec outer;
    outer.branches.resize(3);
    outer.branches[0].stages = {gain_stage("b"), gain_stage("inner", inner), gain_stage("d")};
    outer.branches[1].factor = -1;
    outer.branches[1].stages = {gain_stage("e", DelaySpec{DelayUnit::samples, 3})};
    return {gain_stage("a"), gain_stage("outer", outer), gain_stage("f")};
}

std::string order(const Chain& chain) {
    std::string text;
    visit_stages(chain, [&](const Stage& s, const Slot&, int depth) {
        text += s.id + std::to_string(depth) + " ";
    });
    return text;
}

TEST(Chain, WhatCountsBeginsWithTheLastThatStandsForThoseAbove) {
    Stage peak, fir, off;
    peak.id = "peak";
    fir.id = "fir";
    FirSpec spec;
    spec.method = FromChainFir();
    fir.spec = spec;
    off.id = "off";
    off.enabled = false;
    const auto ids = [](const Chain& chain) {
        std::string all;
        for (const Stage* gain_stage : stages_that_count(chain)) {
            all += gain_stage->id + " ";
        }
        return all;
    };
    const SharedValue<Stage> p(peak), f(fir), o(off);
    EXPECT_EQ(ids({p, o, p}), "peak peak ");
    EXPECT_EQ(ids({p, f, p}), "fir peak ");
    EXPECT_EQ(ids({p, f, p, f}), "fir ");
    fir.enabled = false;
    EXPECT_EQ(ids({p, SharedValue<Stage>(fir)}), "peak ");
}

TEST(Chain, IsWalkedInTheOrderOfTheSignal) {
    EXPECT_EQ(order(tree()), "a0 outer0 b1 inner1 c2 d1 e1 f0 ");
}

TEST(Chain, FindsStagesTheirSlotsAndPathsAtAnyDepth) {
    const Chain chain = tree();
    EXPECT_EQ(find_stage(chain, "c")->id, "c");
    EXPECT_EQ(find_stage(chain, "nobody"), nullptr);
    EXPECT_EQ(slot_of(chain, "c"), (Slot{"inner", 0, 0}));
    EXPECT_EQ(slot_of(chain, "e"), (Slot{"outer", 1, 0}));
    EXPECT_EQ(slot_of(chain, "f"), (Slot{"", 0, 2}));
    EXPECT_FALSE(slot_of(chain, "nobody"));
    EXPECT_EQ(path_of(chain, "c"), "stages[1].branches[0].stages[1].branches[0].stages[0]");
    EXPECT_EQ(chain_at(chain, {"outer", 2, 0})->size(), 0u);
    EXPECT_EQ(chain_at(chain, {"outer", 3, 0}), nullptr);
    EXPECT_EQ(chain_at(chain, {"a", 0, 0}), nullptr) << "a gain holds no chain";
}

TEST(Chain, NamesPlacesInLoopsAndRepetitions) {
    LoopSpec loop;
    loop.forward = {gain_stage("f", RepeatSpec{3, {gain_stage("g")}})};
    loop.feedback.stages = {gain_stage("r"), gain_stage("s")};
    const Chain chain = {gain_stage("l", loop)};
    EXPECT_EQ(path_of(chain, "g"), "stages[0].forward[0].stages[0]");
    EXPECT_EQ(path_of(chain, "s"), "stages[0].feedback.stages[1]");
    EXPECT_EQ(slot_of(chain, "s"), (Slot{"l", 1, 1}));
    EXPECT_EQ(label_of_chain(*chain[0], 1), "back × 0.5");
    EXPECT_EQ(depth_of(chain), 2);
    EXPECT_EQ(depth_of(tree()), 2);
    EXPECT_EQ(depth_of({gain_stage("a")}), 0);
}

TEST(Chain, EditsOneStageAndSharesTheRest) {
    const Chain before = tree();
    Chain after = before;
    EXPECT_TRUE(edit_stage(after, "c", [](Stage& s) { s.enabled = false; }));
    EXPECT_FALSE(find_stage(after, "c")->enabled);
    EXPECT_TRUE(find_stage(before, "c")->enabled) << "the copy is untouched";
    EXPECT_EQ(find_stage(after, "e"), find_stage(before, "e"))
        << "what is not on the way is shared";
    EXPECT_FALSE(edit_stage(after, "nobody", [](Stage&) { FAIL(); }));
}

TEST(Chain, InsertsMovesAndTakesOutBySlot) {
    Chain chain = tree();
    EXPECT_TRUE(insert_stage(chain, {"outer", 2, 9}, gain_stage("g")));
    EXPECT_EQ(slot_of(chain, "g"), (Slot{"outer", 2, 0})) << "beyond the end is the end";
    EXPECT_FALSE(insert_stage(chain, {"a", 0, 0}, gain_stage("h")));
    EXPECT_TRUE(move_stage(chain, "f", {"inner", 1, 0}));
    EXPECT_EQ(slot_of(chain, "f"), (Slot{"inner", 1, 0}));
    EXPECT_TRUE(move_stage(chain, "b", {"outer", 0, 2})) << "counted without the moved one";
    EXPECT_EQ(order(chain), "a0 outer0 inner1 c2 f2 d1 b1 e1 g1 ");
    EXPECT_FALSE(move_stage(chain, "outer", {"inner", 0, 0})) << "not into itself";
    EXPECT_FALSE(move_stage(chain, "outer", {"outer", 0, 0}));
    const auto taken = take_out_stage(chain, "inner");
    ASSERT_TRUE(taken);
    EXPECT_EQ(order(chain), "a0 outer0 d1 b1 e1 g1 ");
    EXPECT_FALSE(take_out_stage(chain, "inner"));
}

TEST(Chain, GivesFreshIdsToAllThatIsHeld) {
    const Chain chain = tree();
    Stage copy = *find_stage(chain, "outer");
    give_fresh_ids(copy, chain);
    std::set<std::string> ids;
    Chain both = chain;
    both.emplace_back(copy);
    visit_stages(both, [&](const Stage& s, const Slot&, int) {
        EXPECT_TRUE(ids.insert(s.id).second) << s.id;
    });
    EXPECT_EQ(ids.size(), 14u);
}

TEST(DesignedChain, SumsItsBranches) {
    DesignStore store;
    const DesignedChain chain = design_chain(tree(), brief_at(48000), store);
    ASSERT_TRUE(chain.problems.empty());
    EXPECT_EQ(chain.stages.size(), 8u);
    // b and d are wires, so the outer sum is (10^(-6/20) + 0.5) - z^-3 + 1.
    const auto impulse = chain.filter.impulse_response(5);
    EXPECT_NEAR(impulse[0], ratio_from_db(-6) + 0.5 + 1, 1e-15);
    EXPECT_NEAR(impulse[3], -1, 1e-15);
    EXPECT_EQ(impulse[4], 0);
    EXPECT_EQ(chain.stages.at("inner").working().steps.size(), 2u);
}

TEST(DesignedChain, SaysWhereAStageCannotBeDesigned) {
    Chain chain = tree();
    edit_stage(chain, "c", [](Stage& s) { s.spec = GainSpec{900, false, {}}; });
    DesignStore store;
    DesignedChain designed = design_chain(chain, brief_at(48000), store);
    ASSERT_EQ(designed.problems.size(), 1u);
    EXPECT_EQ(designed.problems[0].place,
              "stages[1].branches[0].stages[1].branches[0].stages[0].gain_db");
    edit_stage(chain, "outer", [](Stage& s) { s.enabled = false; });
    designed = design_chain(chain, brief_at(48000), store);
    EXPECT_TRUE(designed.problems.empty()) << "held by one that is off";
    EXPECT_EQ(designed.problems_of_what_is_off.size(), 1u);
}

// Counts how often a stage that needs what stands above it is designed.
class CountsTaps : public Designer {
public:
    Needs needs_of(const StageSpec& spec) const override {
        return {false, false, kind_of(spec) == "taps"};
    }
    Expected<Design> design(const StageSpec& spec, const Brief& brief,
                            const Watch& watch) const override {
        designs += kind_of(spec) == "taps" ? 1 : 0;
        return Designer::design(spec, brief, watch);
    }
    mutable int designs = 0;
};

TEST(DesignedChain, AStageIsDesignedAgainExactlyWhenSomethingAboveItChanges) {
    const CountsTaps designer;
    DesignStore store(DesignStore::usual_bytes, designer);
    SplitSpec split;
    split.branches[0].stages = {gain_stage("x"), gain_stage("t", TapsSpec{})};
    split.branches[1].stages = {gain_stage("y")};
    Chain chain{gain_stage("a"), gain_stage("s", split), gain_stage("z")};
    const auto designs_after = [&](std::string_view id, double db) {
        edit_stage(chain, id, [&](Stage& s) { s.spec = GainSpec{db, false, {}}; });
        design_chain(chain, brief_at(48000), store);
        return designer.designs;
    };
    design_chain(chain, brief_at(48000), store);
    EXPECT_EQ(designer.designs, 1);
    EXPECT_EQ(designs_after("z", 1), 1) << "below";
    EXPECT_EQ(designs_after("y", 1), 1) << "beside";
    EXPECT_EQ(designs_after("x", 1), 2) << "above in its branch";
    EXPECT_EQ(designs_after("a", 1), 3) << "above the split";
    EXPECT_EQ(designs_after("a", 0), 3) << "as it was before: kept";
    edit_stage(chain, "x", [](Stage& s) { s.enabled = false; });
    design_chain(chain, brief_at(48000), store);
    EXPECT_EQ(designer.designs, 4) << "switched off above it";
}

TEST(ChainJson, NestsAndKeepsEveryKey) {
    Study study = empty_study();
    study.channels[0].edit().stages = tree();
    const std::string text = json_from_study(study);
    const auto read = study_from_json(text);
    ASSERT_TRUE(read) << to_text(read.error());
    EXPECT_EQ(read->study, study);
    EXPECT_EQ(json_from_study(read->study), text);
}

TEST(ChainJson, IdsAreUniqueAtEveryDepth) {
    Study study = empty_study();
    Chain chain = tree();
    edit_stage(chain, "c", [](Stage& s) { s.id = "f"; });
    study.channels[0].edit().stages = chain;
    const auto read = study_from_json(json_from_study(study));
    ASSERT_FALSE(read);
    EXPECT_EQ(read.error().place, "channels[0].stages[2].id");
}

TEST(ChainJson, ASplitHasTwoBranchesOrMore) {
    const auto read = study_from_json(R"({"format": "syntonon-study", "version": 1,
        "sample_rate_hz": 48000, "channels": [{"id": "z", "stages": [
        {"id": "s", "kind": "split", "branches": [{"stages": []}]}]}]})");
    ASSERT_FALSE(read);
    EXPECT_EQ(read.error().place, "channels[0].stages[0].branches");
}

} // namespace
} // namespace syntonon
