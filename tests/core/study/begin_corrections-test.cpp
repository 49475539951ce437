// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/begin_corrections.h"

#include "core/study/kinds.h"
#include "demo/brightwater.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

Curve flat_curve(const char* id, double low_hz, double high_hz, double level_db) {
    Curve curve;
    curve.id = curve.name = id;
    curve.frequency_hz = {low_hz, 1000, high_hz};
    curve.magnitude_db = {level_db, level_db, level_db};
    return curve;
}

Study two_measured_channels() {
    Study study = empty_study();
    study.channels.clear();
    for (const char* id : {"left", "right", "spare"}) {
        Channel channel;
        channel.id = channel.name = id;
        study.channels.emplace_back(channel);
    }
    study.curves.emplace_back(flat_curve("l", 60, 20'000, 70));
    study.curves.emplace_back(flat_curve("r", 20, 12'000, 76));
    study.channels[0].edit().measured = {{"l", 1, {}}};
    study.channels[1].edit().measured = {{"r", 1, {}}};
    return study;
}

TEST(BeginCorrections, MeasuredChannelsGetAGoalAndACorrectionEach) {
    const BegunCorrections begun = with_corrections(two_measured_channels());
    ASSERT_EQ(begun.places.size(), 2U);
    EXPECT_EQ(begun.places[0].channel, "left");
    EXPECT_TRUE(begun.made_goal && begun.added);
    ASSERT_EQ(begun.study.goals.size(), 1U);
    EXPECT_TRUE(check(*begun.study.goals[0]));
    EXPECT_EQ(begun.study.channels[0]->goal, begun.study.channels[1]->goal);
    EXPECT_TRUE(begun.study.channels[2]->stages.empty());
    const auto& left =
        std::get<CorrectionSpec>(*stage_of(*begun.study.channels[0], begun.places[0].stage)->spec);
    EXPECT_EQ(left.from_hz, 60) << "no lower than was measured";
    Briefs briefs;
    EXPECT_NEAR(*briefs.goal_of(begun.study, *begun.study.channels[0]).goal->level->value_at(500),
                73, 1e-9)
        << "what both can do";
    const auto fitted = fitted_anew(begun.study, begun.places, briefs);
    EXPECT_TRUE(fitted) << to_text(fitted.error());
}

TEST(BeginCorrections, WhatIsThereStays) {
    const BegunCorrections once = with_corrections(two_measured_channels());
    const BegunCorrections twice = with_corrections(once.study);
    EXPECT_TRUE(twice.study == once.study);
    EXPECT_TRUE(twice.places == once.places);
    EXPECT_FALSE(twice.made_goal || twice.added);
    const BegunCorrections demo = with_corrections(brightwater_study());
    EXPECT_EQ(demo.study.goals.size(), brightwater_study().goals.size());
}

TEST(BeginCorrections, NothingIsMeasuredNothingIsDone) {
    const BegunCorrections begun = with_corrections(empty_study());
    EXPECT_TRUE(begun.places.empty());
    EXPECT_TRUE(begun.study == empty_study());
}

} // namespace
} // namespace syntonon
