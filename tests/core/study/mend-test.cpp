// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/mend.h"

#include "core/study/kinds.h"
#include "demo/brightwater.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

Stage bell_stage(std::string id, double hz, double gain_db, double q) {
    Stage stage;
    stage.id = std::move(id);
    stage.spec = parametric(ParametricShape::peak, hz, gain_db, q);
    return stage;
}

// A channel without a measured set whose level is to stay within a corridor about 0 dB.
Study study_to_mend(const Chain& stages, double above_db, std::vector<Requirement> more = {}) {
    Study study = empty_study();
    Goal goal;
    goal.id = "g";
    goal.corridor = {{100, 10'000, above_db, above_db, true}};
    goal.requirements = std::move(more);
    study.goals.emplace_back(goal);
    Channel& channel = study.channels[0].edit();
    channel.goal = "g";
    channel.stages = stages;
    return study;
}

Expected<Mended> mend_all(const Study& study) {
    Briefs briefs;
    const Channel& channel = *study.channels[0];
    return mend(study, channel, knobs_to_mend(channel), briefs);
}

TEST(Mend, TurnsAGainAsFarAsTheCorridorAsks) {
    const auto mended = mend_all(study_to_mend({bell_stage("a", 1000, 5, 1)}, 2));
    ASSERT_TRUE(mended) << to_text(mended.error());
    EXPECT_TRUE(mended->is_met);
    EXPECT_FALSE(is_met(mended->before));
    ASSERT_EQ(mended->changes.size(), 1U) << "its place and width need not change";
    EXPECT_EQ(mended->changes[0].knob, (MendKnob{"a", "gain_db"}));
    EXPECT_EQ(mended->changes[0].from, 5);
    EXPECT_NEAR(mended->changes[0].to, 2 - 0.02, 0.02) << "no further than that takes";
}

TEST(Mend, LeavesAloneWhatHasNoPartInIt) {
    const auto mended = mend_all(
        study_to_mend({bell_stage("right", 300, 1, 2), bell_stage("wrong", 4000, -4, 2)}, 2));
    ASSERT_TRUE(mended);
    EXPECT_TRUE(mended->is_met);
    for (const MendChange& change : mended->changes) {
        EXPECT_EQ(change.knob.stage, "wrong") << change.knob.key;
    }
}

TEST(Mend, TurnsOnlyWhatItMay) {
    const Study study =
        study_to_mend({bell_stage("a", 1000, 5, 1), bell_stage("b", 1000, -1, 1)}, 2);
    Briefs briefs;
    const auto mended = mend(study, *study.channels[0], {{"b", "gain_db"}}, briefs);
    ASSERT_TRUE(mended);
    ASSERT_EQ(mended->changes.size(), 1U);
    EXPECT_NEAR(mended->changes[0].to, -3, 0.1);
    EXPECT_EQ(mend(study, *study.channels[0], {}, briefs).error().place, "stages");
}

// Crossings, ripples, levels and delays are numbers, too.
TEST(Mend, MeetsOtherRequirements) {
    Stage low_cut;
    low_cut.id = "cut";
    low_cut.spec = parametric(ParametricShape::high_pass, 40, 0, 0.7);
    const Study study = study_to_mend(
        {low_cut}, 3.5, {{CrossingRequirement{-3, 70, 85}}, {LevelRequirement{2000, -0.5, 0.5}}});
    const auto mended = mend_all(study);
    ASSERT_TRUE(mended) << to_text(mended.error());
    EXPECT_TRUE(mended->is_met);
    EXPECT_EQ(mended->changes.size(), 1U) << "one number does it";
}

// One bell cannot take back two: the best worst margin is had where both miss alike.
TEST(Mend, ComesAsCloseAsItCan) {
    Stage fixed;
    fixed.id = "fixed";
    fixed.spec = RootsSpec{}; // nothing of it is turned
    Study study = study_to_mend({bell_stage("a", 1000, 0, 1)}, 1);
    study.goals[0].edit().corridor = {{900, 1100, 4, -2, true}, {950, 1050, -2, 4, true}};
    const auto mended = mend_all(study);
    ASSERT_TRUE(mended) << to_text(mended.error());
    EXPECT_FALSE(mended->is_met);
    const auto worst = [](const Verdict& verdict) {
        double least = 100;
        for (const Finding& finding : verdict) {
            least = std::min(least, finding.margin.value_or(100));
        }
        return least;
    };
    EXPECT_GE(worst(mended->after), worst(mended->before) - 1e-6);
}

// Three bells cannot do what five would have to.
TEST(Mend, FinishesSunriseWhichIsHalfDone) {
    const Study study = brightwater_study();
    Briefs briefs;
    const Channel& sunrise = *study.channels[1];
    const auto knobs = knobs_to_mend(sunrise);
    const auto alone = mend(study, sunrise, knobs, briefs);
    ASSERT_TRUE(alone) << to_text(alone.error());
    EXPECT_FALSE(alone->is_met);
    EXPECT_EQ(alone->stages.size(), sunrise.stages.size());
    const auto mended = mend(study, sunrise, knobs, briefs, {}, 3);
    ASSERT_TRUE(mended) << to_text(mended.error());
    for (const Finding& finding : mended->after) {
        EXPECT_EQ(finding.outcome, Outcome::met)
            << finding.requirement << ' ' << finding.margin.value_or(0);
    }
    EXPECT_FALSE(mended->changes.empty());
    EXPECT_FALSE(mended->added.empty());
    EXPECT_EQ(mended->stages.size(), sunrise.stages.size() + mended->added.size());
}

TEST(Mend, SaysWhatIsMissing) {
    Study study = study_to_mend({bell_stage("a", 1000, 1, 1)}, 2);
    EXPECT_EQ(mend_all(study).error().reason, "it is met already");
    study.channels[0].edit().goal.clear();
    EXPECT_EQ(mend_all(study).error().place, "goal");
}

TEST(Mend, LockedSectionsAreNotTurned) {
    Stage stage;
    stage.id = "c";
    CorrectionSpec spec;
    std::get<SectionsCorrection>(spec.method).found = {
        {parametric(ParametricShape::peak, 200, 3, 1), true, {}},
        {parametric(ParametricShape::peak, 2000, 3, 1), false, {}}};
    stage.spec = spec;
    const auto knobs = knobs_to_mend(*study_to_mend({stage}, 2).channels[0]);
    ASSERT_EQ(knobs.size(), 3U);
    for (const MendKnob& knob : knobs) {
        EXPECT_TRUE(knob.key.ends_with("[1]")) << knob.key;
    }
}

} // namespace
} // namespace syntonon
