// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/goal_json.h"
#include "core/study/problems.h"

#include "core/study/kinds.h"
#include "core/study/study_json.h"
#include "tests/support/json.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

std::string study_text(const std::string& goal) {
    return R"({"format": "syntonon-study", "version": 1, "sample_rate_hz": 48000, "goals": [{"id": "g", )"
           + goal + "}]}";
}

std::string place(const std::string& goal) {
    const auto read = study_from_json(study_text(goal));
    return read ? std::string("fine") : read.error().place;
}

Goal back_and_forth(const Goal& goal) {
    Study study;
    study.goals.emplace_back(goal);
    const auto read = study_from_json(json_from_study(study));
    EXPECT_TRUE(read) << to_text(read.error());
    EXPECT_TRUE(read->warnings.empty()) << read->warnings.front();
    return *read->study.goals[0];
}

TEST(GoalJson, EveryFormOfTargetComesBackAsItWas) {
    Goal goal;
    goal.id = "g";
    goal.name = "G";
    goal.target.points = {
        {20, 3, Between::linear_frequency}, {200, 0, Between::gap}, {400, 0, {}}, {400, -6, {}}};
    goal.target.open_ends = true;
    goal.target.anchor = {LevelAnchor::Kind::lowest_measured, 1.5, 100, 8000, {}};
    goal.phase_target = TargetLine{{{100, -45, {}}, {1000, -90, {}}}, Between::linear_frequency};
    goal.delay_target = TargetLine{{{100, 2.5, {}}}};
    goal.corridor = {{40, 200, 2, 1.5}, {200, 400, std::nullopt, 3}, {400, 800, -20, 30, true}};
    goal.weights.points = {{100, 2, {}}, {1000, 0.5, {}}};
    goal.weights.ranges = {{10, 20, 0.1, {}}};
    EXPECT_EQ(back_and_forth(goal), goal);
    goal.target.points.clear();
    goal.target.open_ends = false;
    goal.target.house = HouseCurve{1, 150, 2, 3000, 1.25, 30, 12000, {}};
    EXPECT_EQ(back_and_forth(goal), goal);
    goal.target.house.reset();
    goal.target.source = TargetSource{TargetSource::Kind::take, "", "zenith", "t1", "", 0.25, {}};
    EXPECT_EQ(back_and_forth(goal), goal);
}

TEST(GoalJson, AbsoluteRangesAreWrittenAsLevels) {
    Goal goal;
    goal.corridor = {{400, 800, -20, 30, true}};
    const std::string text = goal_json(goal).text();
    EXPECT_EQ(test::json_at(text, "/corridor/0/upper_db"), "-20.0");
    EXPECT_EQ(test::json_at(text, "/corridor/0/lower_db"), "-30.0");
    EXPECT_EQ(test::json_at(text, "/corridor/0/above_db"), "absent");
}

TEST(GoalJson, SlopingEdgesGoThereAndBack) {
    Goal goal;
    goal.corridor = {{400, 800, -20, 30, true}, {800, 1600, 2, 3}};
    goal.corridor[0].above_to_db = -25;
    goal.corridor[0].below_to_db = 40;
    goal.corridor[1].below_to_db = 6;
    const std::string text = goal_json(goal).text();
    EXPECT_EQ(test::json_at(text, "/corridor/0/upper_to_db"), "-25.0");
    EXPECT_EQ(test::json_at(text, "/corridor/0/lower_to_db"), "-40.0");
    EXPECT_EQ(test::json_at(text, "/corridor/1/below_to_db"), "6.0");
    EXPECT_EQ(back_and_forth(goal), goal);
    EXPECT_EQ(place(R"("corridor": [{"from_hz": 1, "to_hz": 2, "above_db": 1, "upper_to_db": 2}])"),
              "goals[0].corridor[0].above_db");
}

TEST(GoalJson, WrongFieldsAreNamed) {
    EXPECT_EQ(place(R"("target": {"points": [{"frequency_hz": 1}]})"),
              "goals[0].target.points[0].magnitude_db");
    EXPECT_EQ(
        place(R"("target": {"points": [{"frequency_hz": 1, "magnitude_db": 0, "after": "x"}]})"),
        "goals[0].target.points[0].after");
    EXPECT_EQ(place(R"("target": {"between": "gap"})"), "goals[0].target.between");
    EXPECT_EQ(place(R"("target": {"beyond": "x"})"), "goals[0].target.beyond");
    EXPECT_EQ(place(R"("target": {"source": {"kind": "moon"}})"), "goals[0].target.source.kind");
    EXPECT_EQ(place(R"("target": {"source": {"kind": "stage", "channel": "a"}})"),
              "goals[0].target.source.stage");
    EXPECT_EQ(place(R"("target": {"anchor": {"kind": "sea"}})"), "goals[0].target.anchor.kind");
    EXPECT_EQ(place(R"("target": {"anchor": {"kind": "lowest_measured"}})"),
              "goals[0].target.anchor.from_hz");
    EXPECT_EQ(place(R"("delay_target": {"points": [{"frequency_hz": 1, "phase_deg": 0}]})"),
              "goals[0].delay_target.points[0].delay_ms");
    EXPECT_EQ(place(R"("corridor": [{"from_hz": 1, "to_hz": 2, "upper_db": 1, "below_db": 2}])"),
              "goals[0].corridor[0].below_db");
    EXPECT_EQ(place(R"("weights": {"points": [{"frequency_hz": 1}]})"),
              "goals[0].weights.points[0].weight");
}

TEST(GoalJson, UnknownKeysAreKeptAtEveryLevel) {
    const auto read = study_from_json(study_text(
        R"("target": {"house": {"colour": 1}, "anchor": {"mood": 2}, "smell": 3},
           "weights": {"points": [{"frequency_hz": 1, "weight": 2, "why": 4}], "note": 5})"));
    ASSERT_TRUE(read);
    EXPECT_EQ(read->warnings.size(), 5u);
    const std::string goal = goal_json(*read->study.goals[0]).text();
    EXPECT_EQ(test::json_at(goal, "/target/house/colour"), "1");
    EXPECT_EQ(test::json_at(goal, "/target/anchor/mood"), "2");
    EXPECT_EQ(test::json_at(goal, "/target/smell"), "3");
    EXPECT_EQ(test::json_at(goal, "/weights/points/0/why"), "4");
    EXPECT_EQ(test::json_at(goal, "/weights/note"), "5");
}

TEST(GoalJson, ATargetStatedTwiceIsKeptAndRefusedByCheck) {
    const auto read = study_from_json(study_text(
        R"("target": {"points": [{"frequency_hz": 1, "magnitude_db": 2}], "house": {}})"));
    ASSERT_TRUE(read);
    EXPECT_EQ(problems_of(read->study).at(0).place, "goals[0].target");
    const std::string goal = goal_json(*read->study.goals[0]).text();
    EXPECT_EQ(test::json_at(goal, "/target/points/0/magnitude_db"), "2.0");
    EXPECT_NE(test::json_at(goal, "/target/house"), "absent");
}

TEST(ChannelJson, TakesAndTheDifferenceComeBackAsTheyWere) {
    Study study = empty_study();
    Channel& channel = study.channels[0].edit();
    Stage stage;
    stage.id = "s1";
    stage.spec = parametric(ParametricShape::notch, 50, 0, 10);
    channel.stages = {stage};
    Take take;
    take.id = "t1";
    take.name = "before lunch";
    take.shown = false;
    take.stages = {stage};
    channel.takes.emplace_back(take);
    channel.difference = Difference{"prediction", "take:t1", {}};
    const auto read = study_from_json(json_from_study(study));
    ASSERT_TRUE(read);
    EXPECT_TRUE(read->warnings.empty());
    EXPECT_EQ(*read->study.channels[0], channel);
    std::string twice = json_from_study(study);
    const auto at = twice.find("\"takes\": [");
    twice.insert(at + 10, R"({"id": "t1", "stages": []},)");
    EXPECT_EQ(study_from_json(twice).error().place, "channels[0].takes[1].id");
}

} // namespace
} // namespace syntonon
