// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/resolved_goal.h"

#include "core/design/parametric.h"
#include "core/goal/goal_limits.h"
#include "core/goal/verdict.h"
#include "tests/support/rate.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

std::vector<std::string> places(const Goal& goal) {
    std::vector<std::string> all;
    for (const Contradiction& found : resolved(goal, rate).contradictions) {
        all.push_back(found.problem.place + " with " + found.first_place);
    }
    return all;
}

CorridorRange absolute(double from, double to, double lower, double upper) {
    return {from, to, upper, -lower, true};
}

Verdict judged(const Goal& goal, const std::vector<Filter>& chain) {
    return judge(&goal, Prediction(series(chain), nullptr, rate));
}

TEST(ResolvedGoal, FindsLevelsThatExcludeEachOther) {
    Goal goal;
    goal.requirements = {{AttenuationRequirement{500, 5000, 40}},
                         {LevelRequirement{1000, -3, 3}},
                         {LevelRequirement{100, -3, 3}}};
    EXPECT_EQ(places(goal), std::vector<std::string>{"requirements[1] with requirements[0]"});
    goal.corridor = {{90, 110, 2, 2, {}}};
    goal.target.points = {{1000, 20, {}}};
    EXPECT_EQ(places(goal).size(), 2u) << "the corridor around 20 dB against the level at 100 Hz";
}

TEST(ResolvedGoal, ComparesAtTheTargetsCorners) {
    // They agree at both ends of the range; in the middle the target rises out of the other.
    Goal goal;
    goal.target.points = {{100, 0, {}}, {1000, 12, {}}, {10000, 0, {}}};
    goal.corridor = {{100, 10000, 1, 1}, absolute(100, 10000, -5, 5)};
    EXPECT_EQ(places(goal), std::vector<std::string>{"corridor[1] with corridor[0]"});
    goal.target.points[1].value = 3;
    EXPECT_TRUE(places(goal).empty());
}

TEST(ResolvedGoal, FindsDelayBandsThatExcludeEachOther) {
    Goal goal;
    const Duration ten{10, TimeUnit::samples}, one{1, TimeUnit::samples};
    goal.requirements = {{GroupDelayRequirement{0, 1000, ten, one}},
                         {GroupDelayRequirement{500, 2000, Duration{1, TimeUnit::ms}, one}}};
    EXPECT_EQ(places(goal).size(), 1u) << "1 ms is 48 samples";
    goal.requirements[1] = {GroupDelayRequirement{1001, 2000, Duration{1, TimeUnit::ms}, one}};
    EXPECT_TRUE(places(goal).empty());
}

TEST(ResolvedGoal, AContradictionIsNamedWhereItFails) {
    Goal goal;
    goal.requirements = {{AttenuationRequirement{500, 5000, 40}}, {LevelRequirement{1000, -3, 3}}};
    const Verdict verdict = judged(goal, {});
    EXPECT_EQ(verdict[0].outcome, Outcome::not_met);
    EXPECT_NE(verdict[0].reason.find("requirements[1]"), std::string::npos) << verdict[0].reason;
    EXPECT_EQ(verdict[1].outcome, Outcome::met);
    EXPECT_EQ(verdict[0].place, "requirements[0]");
    EXPECT_EQ(verdict[0].quantity, Quantity::level);
}

TEST(GoalLimits, NameWhatLiesBeyondHalfTheSampleRate) {
    Goal goal;
    goal.corridor = {{100, 20000, 2, 2}, {100, 30000, 2, 2}};
    goal.requirements = {{RippleRequirement{100, 24000, 1}},
                         {LevelRequirement{24001, -1, 1}},
                         {PeakGainRequirement{6}},
                         {CrossingRequirement{-3, 23000, 25000}}};
    std::vector<std::string> found;
    for (const Problem& problem : beyond_nyquist(goal, rate)) {
        found.push_back(problem.place);
        EXPECT_FALSE(problem.way_out.empty());
    }
    EXPECT_EQ(found, (std::vector<std::string>{"corridor[1].to_hz", "requirements[1].at_hz",
                                               "requirements[3].max_hz"}));
    EXPECT_EQ(beyond_nyquist(goal, 44100).size(), 5u);
}

TEST(ResolvedGoal, AnAbsoluteRangeIgnoresTheTarget) {
    Goal goal;
    goal.target.points = {{1000, 30, {}}};
    goal.corridor = {absolute(100, 10000, -1, 2), {100, 10000, 2, 2}};
    const Verdict verdict = judged(goal, {});
    EXPECT_EQ(verdict[0].outcome, Outcome::met);
    EXPECT_NEAR(*verdict[0].margin, 1, 1e-12);
    EXPECT_EQ(verdict[1].outcome, Outcome::not_met);
}

TEST(ResolvedGoal, JudgesBothSidesOfAJumpAndNothingInAGap) {
    // A low-pass of 1 kHz against a target that falls from 0 to -24 dB at 3 kHz.
    const std::vector<Filter> chain = {
        parametric_filter(parametric(ParametricShape::low_pass, 1000, 0, 0.7071), rate).value()};
    const double at_jump = chain[0].response_at(3000, rate).magnitude_db;
    Goal goal;
    goal.target.points = {{100, 0, {}}, {3000, 0, {}}, {3000, -24, {}}, {20000, -24, {}}};
    goal.corridor = {{2000, 4000, 40, 40}};
    EXPECT_NEAR(*judged(goal, chain)[0].margin, 40 + at_jump, 1e-9) << "just before the jump";
    goal.target.points = {{100, 0, {}}, {500, 0, Between::gap}, {3000, -24, {}}, {4000, -24, {}}};
    goal.corridor = {{600, 2900, 1, 1}, {400, 3100, 30, 30}};
    const Verdict verdict = judged(goal, chain);
    EXPECT_EQ(verdict[0].outcome, Outcome::undecided) << "all of it is a gap";
    EXPECT_EQ(verdict[1].outcome, Outcome::met);
}

TEST(ResolvedGoal, ATargetThatNeedsTheStudyIsUndecidedWithoutIt) {
    Goal goal;
    goal.target.source = TargetSource{};
    goal.corridor = {{100, 1000, 2, 2}, absolute(100, 1000, -2, 2)};
    const Verdict verdict = judged(goal, {});
    EXPECT_EQ(verdict[0].outcome, Outcome::undecided);
    EXPECT_EQ(verdict[1].outcome, Outcome::met) << "it needs no target";
}

} // namespace
} // namespace syntonon
