// What stages may depend on, and when they are designed again: with kinds that only tests have.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/briefs.h"

#include "core/study/analysis.h"
#include "core/study/finish_designs.h"
#include "core/study/kinds.h"
#include "core/study/problems.h"
#include "tests/support/test_designer.h"

#include <algorithm>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

Curve level(std::string id, double level_db) {
    Curve curve;
    curve.id = curve.name = std::move(id);
    curve.frequency_hz = {20, 20000};
    curve.magnitude_db = {level_db, level_db};
    return curve;
}

Stage stage(std::string id, StageSpec spec) {
    Stage made;
    made.id = std::move(id);
    made.spec = std::move(spec);
    return made;
}

StageSpec peak(double hz) {
    return parametric(ParametricShape::peak, hz, 6, 1);
}

// Gains of these numbers of dB are the kinds under test.
constexpr double looks_at_seen = 1, looks_at_wished = 2, slow = 3;

bool is_gain(const StageSpec& spec, double db) {
    const auto* gain = std::get_if<GainSpec>(&*spec);
    return gain != nullptr && gain->gain_db == db;
}

GainSpec gain(double db) {
    GainSpec spec;
    spec.gain_db = db;
    return spec;
}

class BriefsTest : public testing::Test {
protected:
    BriefsTest() {
        designer.needs = [](const StageSpec& spec) {
            return Needs{is_gain(spec, looks_at_wished), is_gain(spec, looks_at_seen), false};
        };
        designer.is_slow = [](const StageSpec& spec) { return is_gain(spec, slow); };
        study.curves = {level("ma", 70), level("mb", 80)};
        for (const char* id : {"ga", "gb"}) {
            Goal goal;
            goal.id = id;
            goal.target.points = {{100, 3, {}}, {10000, -3, {}}};
            study.goals.emplace_back(goal);
        }
        for (const std::string id : {"a", "b"}) {
            Channel channel;
            channel.id = id;
            channel.name = id == "a" ? "Alpha" : "Beta";
            channel.goal = "g" + id;
            channel.measured = {{"m" + id}};
            study.channels.emplace_back(channel);
        }
    }
    Channel& edit(std::size_t i) { return study.channels[i].edit(); }
    std::shared_ptr<const ChannelAnalysis> analyse(std::size_t i) {
        return cache.analyse(study, *study.channels[i]);
    }
    void follow(std::size_t goal, const std::string& channel) {
        TargetSource source;
        source.kind = TargetSource::Kind::channel;
        source.channel = channel;
        Target& target = study.goals[goal].edit().target;
        target.points.clear();
        target.source = source;
    }

    TestDesigner designer;
    std::shared_ptr<DesignStore> store =
        std::make_shared<DesignStore>(DesignStore::usual_bytes, designer);
    AnalysisCache cache{store};
    Study study;
};

TEST_F(BriefsTest, AStageThatNeedsWhatIsSeenIsDesignedExactlyWhenThatChanges) {
    edit(0).stages = {stage("s1", peak(100)), stage("s2", gain(looks_at_seen)),
                      stage("s3", peak(1000))};
    const auto count = [&] {
        analyse(0);
        return designer.briefs_seen().size();
    };
    EXPECT_EQ(count(), 1u);
    const Study first = study;
    edit(0).stages[2].edit().spec = peak(2000);
    EXPECT_EQ(count(), 1u) << "below";
    study.goals[0].edit().target.points[0].value = 5;
    EXPECT_EQ(count(), 1u) << "it does not look at the goal";
    edit(1).stages = {stage("s1", peak(50))};
    EXPECT_EQ(count(), 1u) << "another channel";
    edit(0).stages[0].edit().spec = peak(101);
    EXPECT_EQ(count(), 2u) << "above";
    edit(0).stages[0].edit().name = "renamed";
    EXPECT_EQ(count(), 2u) << "the same filter above";
    edit(0).stages[0].edit().enabled = false;
    EXPECT_EQ(count(), 3u) << "nothing above";
    study.curves[0].edit().magnitude_db[0] = 60;
    EXPECT_EQ(count(), 4u) << "measured anew";
    edit(0).measured.push_back({"mb", 2, {}});
    EXPECT_EQ(count(), 5u) << "a position more";
    edit(0).measured[1].weight = 3;
    EXPECT_EQ(count(), 6u) << "another weight";
    study = first;
    EXPECT_EQ(count(), 6u) << "all undone: everything was kept";
}

TEST_F(BriefsTest, WhatIsSeenAndWhatStandsAboveIsHandedOn) {
    SplitSpec split;
    split.branches[0].factor = 0.5;
    split.branches[0].stages = {stage("s3", peak(300)), stage("s4", gain(looks_at_seen))};
    edit(0).stages = {stage("s1", peak(100)), stage("s2", split)};
    edit(0).measured.push_back({"mb", 2, {}});
    analyse(0);
    const auto briefs = designer.briefs_seen();
    ASSERT_EQ(briefs.size(), 1u);
    ASSERT_EQ(briefs[0].seen.positions.size(), 2u);
    EXPECT_EQ(briefs[0].seen.positions[1].curve->level_db[0], 80);
    EXPECT_EQ(briefs[0].seen.positions[1].weight, 2);
    // In its branch: the stage before the split and the one before it in the branch.
    const Filter above[] = {
        *design(peak(100), brief_at(48000), {}).map([](const auto& d) { return d.filter; }),
        *design(peak(300), brief_at(48000), {}).map([](const auto& d) { return d.filter; })};
    EXPECT_EQ(briefs[0].above, series(above));
}

TEST_F(BriefsTest, TheTargetIsHandedOnPartByPart) {
    auto& target = study.goals[0].edit().target;
    target.points = {{100, 3, {}}, {400, 3, Between::gap}, {800, 0, {}}, {1600, -6, {}}};
    target.anchor.offset_db = 10;
    edit(0).stages = {stage("s1", gain(looks_at_wished))};
    analyse(0);
    const auto briefs = designer.briefs_seen();
    ASSERT_EQ(briefs.size(), 1u);
    ASSERT_NE(briefs[0].wished, nullptr);
    ASSERT_EQ(briefs[0].wished->size(), 2u);
    const WishedPart& second = (*briefs[0].wished)[1];
    EXPECT_EQ(second.frequency_hz.front(), 800);
    EXPECT_EQ(second.frequency_hz.back(), 24000);
    EXPECT_EQ(second.level_db.front(), 10);
    EXPECT_EQ(second.level_db.back(), 4);
    EXPECT_TRUE(briefs[0].seen.positions.empty()) << "not asked for";
    // Another requirement, the same target: not designed again.
    study.goals[0].edit().requirements.push_back({PeakGainRequirement{6}});
    analyse(0);
    EXPECT_EQ(designer.briefs_seen().size(), 1u);
    study.goals[0].edit().corridor = {{100, 300, 3, 3}};
    analyse(0);
    EXPECT_EQ(designer.briefs_seen().size(), 2u);
    study.goals[0].edit().target.anchor.offset_db = 11;
    analyse(0);
    EXPECT_EQ(designer.briefs_seen().size(), 3u);
}

TEST_F(BriefsTest, WithoutAGoalNothingIsWished) {
    edit(0).goal.clear();
    edit(0).stages = {stage("s1", gain(looks_at_wished))};
    analyse(0);
    EXPECT_EQ(designer.briefs_seen().at(0).wished, nullptr);
}

TEST_F(BriefsTest, TargetsThatFollowOneAnotherAreRefusedByNameWhereAStageNeedsThem) {
    follow(0, "b");
    follow(1, "a");
    for (const std::size_t i : {0u, 1u}) {
        edit(i).stages = {stage("s1", gain(looks_at_wished))};
    }
    for (const std::size_t i : {0u, 1u}) {
        const auto analysis = analyse(i);
        ASSERT_EQ(analysis->problems.size(), 1u);
        EXPECT_EQ(analysis->problems[0].place, "stages[0]");
        EXPECT_NE(analysis->problems[0].reason.find("“Alpha” follows “Beta”"), std::string::npos)
            << analysis->problems[0].reason;
        EXPECT_NE(analysis->problems[0].reason.find("“Beta” follows “Alpha”"), std::string::npos);
    }
    const auto problems = problems_of(study, cache.briefs());
    ASSERT_EQ(problems.size(), 2u);
    EXPECT_EQ(problems[0].place, "channels[0].stages[0]");
}

TEST_F(BriefsTest, WhereNoStageLooksTheyMayFollowOneAnother) {
    follow(0, "b");
    follow(1, "a");
    edit(0).stages = {stage("s1", gain(looks_at_wished))};
    edit(1).stages = {stage("s1", peak(100))};
    for (const std::size_t i : {0u, 1u}) {
        const auto analysis = analyse(i);
        EXPECT_TRUE(analysis->problems.empty());
        EXPECT_TRUE(analysis->goal->level);
    }
    EXPECT_TRUE(problems_of(study, cache.briefs()).empty());
    // Nor does one that is switched off: it alone is refused.
    edit(1).stages.push_back(stage("s2", gain(looks_at_wished)));
    edit(1).stages[1].edit().enabled = false;
    EXPECT_TRUE(analyse(0)->problems.empty());
    EXPECT_TRUE(analyse(1)->problems.empty());
}

TEST_F(BriefsTest, AChannelThatFollowsItsOwnTakeIsRefusedWhereTheTakeLooksAtTheTarget) {
    edit(0).stages = {stage("s1", gain(looks_at_wished))};
    Take take;
    take.id = "t1";
    take.stages = edit(0).stages;
    edit(0).takes.emplace_back(take);
    TargetSource source;
    source.kind = TargetSource::Kind::take;
    source.channel = "a";
    source.take = "t1";
    Target& target = study.goals[0].edit().target;
    target.points.clear();
    target.source = source;
    const auto analysis = analyse(0);
    ASSERT_EQ(analysis->problems.size(), 1u);
    EXPECT_NE(analysis->problems[0].reason.find("“Alpha” follows “Alpha”"), std::string::npos);
}

TEST_F(BriefsTest, WhatIsFarAwayCountsToo) {
    // Alpha follows Beta, whose stage looks at Beta's target.
    follow(0, "b");
    edit(0).stages = {stage("s1", gain(looks_at_wished))};
    edit(1).stages = {stage("s1", gain(looks_at_wished))};
    analyse(0);
    const auto count = [&] {
        analyse(0);
        return designer.briefs_seen().size();
    };
    const auto before = count();
    EXPECT_EQ(count(), before);
    study.goals[1].edit().target.points[0].value = 9;
    EXPECT_EQ(count(), before + 1) << "Beta's is another; its filter, and so Alpha's target, not";
    edit(1).stages.push_back(stage("s2", peak(500)));
    EXPECT_EQ(count(), before + 2) << "Alpha's target is another";
}

TEST_F(BriefsTest, ASlowStageIsAJobAndTheLastGoodFilterStands) {
    designer.steps_of_ms = 0;
    edit(0).stages = {stage("s1", peak(100)), stage("s2", gain(slow))};
    auto analysis = analyse(0);
    EXPECT_EQ(designer.slow_designs, 0);
    ASSERT_EQ(analysis->jobs.size(), 1u);
    EXPECT_NE(analysis->jobs[0].name.find("Alpha: "), std::string::npos);
    EXPECT_FALSE(analysis->waits_for.empty());
    EXPECT_TRUE(analysis->problems.empty());
    EXPECT_TRUE(analysis->stage("s2")->is_waiting);
    EXPECT_FALSE(analysis->stage("s2")->filter) << "there is no last one";
    EXPECT_TRUE(std::ranges::all_of(analysis->verdict, [](const Finding& finding) {
        return finding.outcome == Outcome::undecided;
    }));
    run(analysis->jobs[0], *store);
    analysis = analyse(0);
    EXPECT_TRUE(analysis->jobs.empty());
    EXPECT_FALSE(analysis->stage("s2")->is_waiting);
    EXPECT_NEAR(analysis->stage("s2")->filter->response_at(1000, 48000).magnitude_db, 3, 1e-12);
    // Dragged to another place in the chain, undone, put into a take: never again.
    const Study before = study;
    std::swap(edit(0).stages[0], edit(0).stages[1]);
    analyse(0);
    study = before;
    analyse(0);
    Take take;
    take.id = "t1";
    take.stages = edit(0).stages;
    edit(0).takes.emplace_back(take);
    analyse(0);
    analyse(1);
    EXPECT_EQ(designer.slow_designs, 1);
}

TEST_F(BriefsTest, BelowAWaitingStageWhatLooksUpWaitsToo) {
    edit(0).stages = {stage("s1", gain(slow)), stage("s2", gain(looks_at_seen))};
    auto analysis = analyse(0);
    EXPECT_EQ(analysis->jobs.size(), 1u);
    EXPECT_TRUE(analysis->stage("s2")->is_waiting);
    EXPECT_TRUE(designer.briefs_seen().empty());
    run(analysis->jobs[0], *store);
    analysis = analyse(0);
    EXPECT_FALSE(analysis->stage("s2")->is_waiting);
    EXPECT_EQ(designer.briefs_seen().size(), 1u);
}

TEST_F(BriefsTest, ATargetThatFollowsAWaitingChannelWaits) {
    follow(0, "b");
    edit(0).stages = {stage("s1", gain(looks_at_wished))};
    edit(1).stages = {stage("s1", gain(slow))};
    auto analysis = analyse(0);
    EXPECT_EQ(analysis->jobs.size(), 2u) << "for the goal, and for the stage";
    EXPECT_FALSE(analysis->goal->level);
    EXPECT_TRUE(analysis->stage("s1")->is_waiting);
    const ChannelView views[] = {{"a", {}}};
    finish_designs(study, views, cache.briefs());
    analysis = analyse(0);
    EXPECT_TRUE(analysis->jobs.empty());
    EXPECT_NEAR(*analysis->goal->level->value_at(1000), 83, 1e-3);
    EXPECT_EQ(designer.slow_designs, 1);
}

TEST_F(BriefsTest, DesignsInUseAreNotLetGoByASmallStore) {
    store = std::make_shared<DesignStore>(1, designer);
    cache = AnalysisCache(store);
    edit(0).stages = {stage("s1", gain(slow))};
    SplitSpec split;
    split.branches[0].stages = {stage("s2", gain(slow))};
    split.branches[1].stages = {stage("s3", peak(100))};
    edit(1).stages = {stage("s1", split)};
    const ChannelView views[] = {{"a", {}}, {"b", {}}};
    finish_designs(study, views, cache.briefs());
    EXPECT_TRUE(analyse(0)->jobs.empty());
    EXPECT_TRUE(analyse(1)->jobs.empty());
    EXPECT_EQ(designer.slow_designs, 1);
}

TEST_F(BriefsTest, ProgressIsToldWhileADesignIsMade) {
    designer.steps_of_ms = 350;
    edit(0).stages = {stage("s1", gain(slow))};
    std::vector<double> told;
    const ChannelView views[] = {{"a", {}}};
    finish_designs(study, views, cache.briefs(),
                   [&](const DesignJob&, double done) { told.push_back(done); });
    ASSERT_GE(told.size(), 2u);
    EXPECT_TRUE(std::ranges::is_sorted(told));
    EXPECT_LE(told.back(), 1);
}

TEST_F(BriefsTest, AViewOfATakeJudgesTheTake) {
    edit(0).stages = {stage("s1", peak(1000))};
    Take take;
    take.id = "t1";
    take.stages = edit(0).stages;
    edit(0).takes.emplace_back(take);
    edit(0).stages.clear();
    study.goals[0].edit().requirements = {{LevelRequirement{1000, {}, 72}, {}}};
    EXPECT_EQ(analyse(0)->verdict[0].outcome, Outcome::met);
    const auto as_take = cache.analyse(study, *study.channels[0], View{"t1"});
    EXPECT_EQ(as_take->verdict[0].outcome, Outcome::not_met);
    EXPECT_NE(as_take->stage("s1"), nullptr);
    EXPECT_EQ(analyse(0)->stage("s1"), nullptr) << "kept apart";
    EXPECT_EQ(cache.analyse(study, *study.channels[0], View{"t1"}), as_take);
}

} // namespace
} // namespace syntonon
