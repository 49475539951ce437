// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/comparison.h"

#include "core/study/kinds.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

constexpr double drawn_db = 5e-3; // a peak's top may lie between two drawn points

// A channel of one 6 dB peak over a flat measurement of 1 dB, with a take without the peak.
class Comparison : public testing::Test {
protected:
    Comparison() {
        Curve flat;
        flat.id = "m";
        flat.frequency_hz = {20, 20000};
        flat.magnitude_db = {1, 1};
        study.curves.emplace_back(flat);
        Goal goal;
        goal.id = "g";
        goal.target.points = {{1000, -2, {}}};
        study.goals.emplace_back(goal);
        Channel made;
        made.id = "c";
        made.goal = "g";
        made.measured = {{"m"}};
        Stage stage;
        stage.id = "s1";
        stage.spec = parametric(ParametricShape::peak, 1000, 6, 2);
        made.stages = {stage};
        Take take;
        take.id = "t1";
        take.name = "flat";
        made.takes.emplace_back(take);
        study.channels.emplace_back(made);
        analyse();
    }
    void analyse() { analysis = cache.analyse(study, channel()); }
    const Channel& channel() { return *study.channels[0]; }
    Channel& edit() { return study.channels[0].edit(); }
    Expected<LevelTrace> difference(std::string of, std::string from) {
        return difference_of({std::move(of), std::move(from), {}}, channel(), *analysis);
    }
    double greatest(std::string of, std::string from) {
        double most = -INFINITY;
        const LevelTrace trace = difference(std::move(of), std::move(from)).value();
        for (const double level : trace.level_db) {
            most = std::max(most, level);
        }
        return most;
    }

    Study study;
    AnalysisCache cache;
    std::shared_ptr<const ChannelAnalysis> analysis;
};

TEST_F(Comparison, OfAnyTwoCurves) {
    EXPECT_NEAR(greatest("prediction", "take:t1"), 6, drawn_db);
    EXPECT_NEAR(greatest("prediction", "measured"), 6, drawn_db);
    EXPECT_NEAR(greatest("prediction", "target"), 9, drawn_db);
    EXPECT_NEAR(greatest("measured", "target"), 3, 1e-12);
    EXPECT_NEAR(greatest("take:t1", "measured"), 0, 1e-9);
    EXPECT_NEAR(greatest("take:t1", "prediction"), 0, drawn_db) << "far from the peak";
    const LevelTrace trace = difference("prediction", "measured").value();
    for (const double hz : trace.frequency_hz) {
        EXPECT_TRUE(hz >= 20 && hz <= 20000) << "only where both are known";
    }
}

TEST_F(Comparison, WhatIsNotThereIsNamed) {
    EXPECT_EQ(difference("take:t9", "measured").error().place, "difference.of");
    edit().measured.clear();
    edit().goal.clear();
    analyse();
    EXPECT_EQ(difference("prediction", "measured").error().place, "difference.from");
    EXPECT_EQ(difference("prediction", "target").error().place, "difference.from");
    edit().takes[0].edit().stages = {
        Stage{"x", true, "", parametric(ParametricShape::peak, 9e9, 1, 1), {}}};
    analyse();
    EXPECT_EQ(difference("take:t1", "prediction").error().place, "difference.of")
        << "a take that cannot be designed has no curve";
}

TEST_F(Comparison, ListsWhatCanBeCompared) {
    std::vector<std::string> keys;
    for (const ComparedCurve& curve : comparable(channel(), *analysis)) {
        keys.push_back(curve.key);
    }
    EXPECT_EQ(keys, (std::vector<std::string>{"prediction", "measured", "target", "take:t1"}));
}

TEST_F(Comparison, TheWeightedErrorIsDeviationTimesWeight) {
    edit().stages.clear();
    study.goals[0].edit().weights.points = {{1000, 2, {}}};
    analyse();
    const auto error = weighted_error(*analysis);
    ASSERT_TRUE(error);
    for (const double level : error->error.level_db) {
        EXPECT_NEAR(level, 6, 1e-12) << "3 dB over the target, counted twice";
    }
    EXPECT_NEAR(error->rms_db, 6, 1e-12);
    study.goals[0].edit().target.points.clear();
    analyse();
    EXPECT_FALSE(weighted_error(*analysis)) << "no target, no error";
}

TEST_F(Comparison, AGapInTheTargetMakesNoError) {
    study.goals[0].edit().target.points = {
        {20, 0, {}}, {100, 0, Between::gap}, {10000, 0, {}}, {20000, 0, {}}};
    analyse();
    const WeightedError error = weighted_error(*analysis).value();
    for (const double hz : error.error.frequency_hz) {
        EXPECT_TRUE(hz <= 100 || hz >= 10000) << hz;
    }
}

} // namespace
} // namespace syntonon
