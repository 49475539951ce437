// Targets that follow other things in a study, and levels that follow measurements.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/targets.h"

#include "core/study/analysis.h"
#include "core/study/kinds.h"
#include "core/study/problems.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

// A followed chain is a line through 192 points an octave.
constexpr double followed_db = 1e-3;

Curve measured(std::string id, double level_db) {
    Curve curve;
    curve.id = curve.name = std::move(id);
    curve.frequency_hz = {20, 200, 2000, 20000};
    curve.magnitude_db = {level_db - 6, level_db, level_db, level_db - 3};
    return curve;
}

// Two channels "a" and "b" with their own measurements share the goal "g".
Study two_channels() {
    Study study;
    study.curves = {measured("ma", 70), measured("mb", 80)};
    Goal goal;
    goal.id = "g";
    goal.corridor = {{100, 10000, 3, 3}};
    study.goals.emplace_back(goal);
    for (const std::string id : {"a", "b"}) {
        Channel channel;
        channel.id = id;
        channel.goal = "g";
        channel.measured = {{"m" + id}};
        Stage stage;
        stage.id = "s1";
        stage.spec = parametric(ParametricShape::peak, 1000, 6, 2);
        channel.stages = {stage};
        study.channels.emplace_back(channel);
    }
    return study;
}

const Channel& channel(const Study& study, std::string_view id) {
    return *channel_of(study, id);
}

Briefs briefs;

Target& target(Study& study) {
    return study.goals[0].edit().target;
}

double level(const Study& study, std::string_view id, double hz) {
    return level_target(study, channel(study, id), *study.goals[0], briefs)
        .level->value_at(hz)
        .value();
}

std::string refusal(const Study& study, std::string_view id) {
    const auto curve = level_target(study, channel(study, id), *study.goals[0], briefs).level;
    return curve ? "fine" : curve.error().place;
}

TargetSource source(TargetSource::Kind kind, std::string curve, std::string of = "",
                    std::string take = "", std::string stage = "") {
    TargetSource made;
    made.kind = kind;
    made.curve = std::move(curve);
    made.channel = std::move(of);
    made.take = std::move(take);
    made.stage = std::move(stage);
    return made;
}

TEST(LevelTarget, AnchoredToTheAverageFollowsEachChannelsOwnMeasurement) {
    Study study = two_channels();
    target(study).points = {{1000, 0, {}}};
    target(study).anchor = {LevelAnchor::Kind::measured_average, -1, 200, 2000, {}};
    EXPECT_NEAR(level(study, "a", 500), 69, 1e-12);
    EXPECT_NEAR(level(study, "b", 500), 79, 1e-12);
    study.channels[0].edit().measured.clear();
    EXPECT_EQ(refusal(study, "a"), "target.anchor");
    target(study).anchor.from_hz = 30000;
    target(study).anchor.to_hz = 40000;
    EXPECT_EQ(refusal(study, "b"), "target.anchor") << "nothing was measured there";
}

TEST(LevelTarget, AnchoredToTheLowestPointIsTheSameForAllThatShareTheGoal) {
    Study study = two_channels();
    target(study).anchor = {LevelAnchor::Kind::lowest_measured, 0, 20, 20000, {}};
    EXPECT_NEAR(level(study, "a", 500), 64, 1e-12);
    EXPECT_NEAR(level(study, "b", 500), 64, 1e-12);
    target(study).anchor.from_hz = 200;
    EXPECT_NEAR(level(study, "b", 500), 67, 1e-12) << "the upper end of the lower curve";
    study.channels[0].edit().goal.clear();
    EXPECT_NEAR(level(study, "b", 500), 77, 1e-12) << "a no longer shares it";
}

TEST(LevelTarget, AnchoredToTheCommonAverageIsTheMeanOfTheChannelsMeans) {
    Study study = two_channels();
    target(study).anchor = {LevelAnchor::Kind::measured_average, 0, 200, 2000, {}};
    const double a = level(study, "a", 500), b = level(study, "b", 500);
    target(study).anchor.kind = LevelAnchor::Kind::common_average;
    EXPECT_NEAR(level(study, "a", 500), (a + b) / 2, 1e-12);
    EXPECT_NEAR(level(study, "b", 500), (a + b) / 2, 1e-12);
    study.channels[0].edit().measured.clear();
    EXPECT_NEAR(level(study, "a", 500), b, 1e-12) << "only what was measured counts";
    study.channels[1].edit().measured.clear();
    EXPECT_EQ(refusal(study, "b"), "target.anchor");
}

TEST(LevelTarget, FollowsACurve) {
    Study study = two_channels();
    target(study).source = source(TargetSource::Kind::curve, "mb");
    EXPECT_NEAR(level(study, "a", 500), 80, 1e-12);
    target(study).source->smoothing_oct = 1.0 / 3;
    EXPECT_NEAR(level(study, "a", 632), 80, 1e-6);
    study.curves.pop_back();
    EXPECT_EQ(refusal(study, "a"), "target.source.curve");
}

TEST(LevelTarget, FollowsAnotherChannelsPredictionButNotItsOwn) {
    Study study = two_channels();
    target(study).source = source(TargetSource::Kind::channel, "", "b");
    EXPECT_NEAR(level(study, "a", 1000), 86, followed_db) << "measurement and the peak's gain";
    EXPECT_EQ(refusal(study, "b"), "target.source.channel") << "anything would meet it";
    study.channels[1].edit().stages[0].edit().enabled = false;
    EXPECT_NEAR(level(study, "a", 1000), 80, followed_db);
}

TEST(LevelTarget, FollowsATakeAndAStage) {
    Study study = two_channels();
    Take take;
    take.id = "t1";
    take.stages = study.channels[1]->stages;
    study.channels[1].edit().takes.emplace_back(take);
    study.channels[1].edit().stages[0].edit().spec = parametric(ParametricShape::peak, 1000, -6, 2);
    target(study).source = source(TargetSource::Kind::take, "", "b", "t1");
    EXPECT_NEAR(level(study, "a", 1000), 86, followed_db) << "as it was when the take was made";
    target(study).source = source(TargetSource::Kind::stage, "", "b", "", "s1");
    EXPECT_NEAR(level(study, "a", 1000), -6, followed_db);
    study.channels[1].edit().stages.clear();
    EXPECT_EQ(refusal(study, "a"), "target.source.stage");
    target(study).source->channel = "c";
    EXPECT_EQ(refusal(study, "a"), "target.source.channel");
}

TEST(LevelTarget, FollowingNothingThatIsKnownIsRefused) {
    Study study = two_channels();
    for (double& hz : study.curves[1].edit().frequency_hz) {
        hz *= 2000; // measured far above half the sample rate
    }
    target(study).source = source(TargetSource::Kind::channel, "", "b");
    for (const double smoothing : {0.0, 0.5}) {
        target(study).source->smoothing_oct = smoothing;
        EXPECT_TRUE(refusal(study, "a").starts_with("target.source")) << smoothing;
    }
    AnalysisCache cache;
    EXPECT_FALSE(is_met(cache.analyse(study, channel(study, "a"))->verdict));
    EXPECT_FALSE(is_met(cache.analyse(study, channel(study, "b"))->verdict));
}

TEST(LevelTarget, WhatItFollowsMissingIsUndecidedInTheVerdictAndNamedByCheck) {
    Study study = two_channels();
    target(study).source = source(TargetSource::Kind::curve, "gone");
    AnalysisCache cache;
    const auto analysis = cache.analyse(study, channel(study, "a"));
    EXPECT_EQ(analysis->verdict[0].outcome, Outcome::undecided);
    EXPECT_NE(analysis->verdict[0].reason.find("gone"), std::string::npos);
    EXPECT_FALSE(is_met(analysis->verdict));
    const auto problems = problems_of(study);
    ASSERT_EQ(problems.size(), 1u);
    EXPECT_EQ(problems[0].place, "goals[0].target.source.curve");
}

TEST(Targets, AreWorkedOutAnewOnlyWhenSomethingTheyDependOnChanges) {
    Study study = two_channels();
    target(study).source = source(TargetSource::Kind::channel, "", "b");
    const auto goal_of_a = [&] { return briefs.goal_of(study, channel(study, "a")).goal; };
    const auto first = goal_of_a();
    EXPECT_EQ(goal_of_a(), first);
    study.channels[0].edit().stages.clear();
    EXPECT_EQ(goal_of_a(), first) << "its own chain matters not";
    study.channels[1].edit().stages.clear();
    const auto second = goal_of_a();
    EXPECT_NE(second, first);
    EXPECT_NEAR(*second->level->value_at(1000), 80, followed_db);
    study.goals[0].edit().corridor.clear();
    EXPECT_TRUE(goal_of_a()->goal->corridor.empty());
    EXPECT_EQ(briefs.goal_of(study, Channel{}).goal, nullptr);
}

TEST(Takes, KeepTheirOwnCurves) {
    Study study = two_channels();
    Channel& edited = study.channels[0].edit();
    Take take;
    take.id = "t1";
    take.stages = edited.stages;
    edited.takes.emplace_back(take);
    edited.stages[0].edit().spec = parametric(ParametricShape::peak, 1000, -6, 2);
    AnalysisCache cache;
    const auto analysis = cache.analyse(study, channel(study, "a"));
    ASSERT_EQ(analysis->takes.size(), 1u);
    const ChannelPoint point = point_at(*analysis, 1000);
    EXPECT_NEAR(*point.predicted_db, 64, 1e-9);
    ASSERT_EQ(point.takes_db.size(), 1u);
    EXPECT_NEAR(*point.takes_db[0], 76, 1e-9);
    // Only the chain changes: the take is not worked out again.
    study.channels[0].edit().stages.clear();
    EXPECT_EQ(cache.analyse(study, channel(study, "a"))->takes[0], analysis->takes[0]);
    study.channels[0].edit().takes[0].edit().stages[0].edit().spec =
        parametric(ParametricShape::peak, 30000, 6, 2);
    const auto broken = cache.analyse(study, channel(study, "a"));
    ASSERT_TRUE(broken->takes[0]->problem);
    EXPECT_EQ(broken->takes[0]->problem->place, "stages[0].frequency_hz");
    EXPECT_EQ(broken->verdict.back().outcome, Outcome::met) << "the channel itself is judged";
}

TEST(Targets, AChannelThatStaysAsItWasCostsNothing) {
    Study study = two_channels();
    AnalysisCache cache;
    const auto first = cache.analyse(study, channel(study, "a"));
    study.channels[1].edit().stages.clear();
    EXPECT_EQ(cache.analyse(study, channel(study, "a")), first);
    study.curves[0].edit().magnitude_db[0] = 0;
    EXPECT_NE(cache.analyse(study, channel(study, "a")), first);
}

} // namespace
} // namespace syntonon
