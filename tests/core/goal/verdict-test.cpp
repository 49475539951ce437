// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/verdict.h"

#include "core/base/units.h"
#include "core/design/parametric.h"
#include "core/goal/verdict_text.h"
#include "tests/support/rate.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

namespace syntonon {
namespace {

Filter peak(double hz, double gain_db, double q) {
    return parametric_filter(parametric(ParametricShape::peak, hz, gain_db, q), rate).value();
}

Goal flat_goal(double from, double to, std::optional<double> above, std::optional<double> below) {
    Goal goal;
    goal.target.points = {{1000, 0, {}}};
    goal.corridor = {{from, to, above, below, {}}};
    return goal;
}

Verdict judge_chain(const Goal& goal, const std::vector<Filter>& chain,
                    const CurveReader* measured = nullptr) {
    return judge(&goal, Prediction(series(chain), measured, rate));
}

TEST(Goal, RefusesWhatContradictsItself) {
    const auto place = [](const Goal& goal) { return check(goal).error().place; };
    EXPECT_TRUE(check(flat_goal(40, 16000, 2, 2)));
    EXPECT_EQ(place(flat_goal(100, 100, 2, 2)), "corridor[0].to_hz");
    EXPECT_EQ(place(flat_goal(200, 100, 2, 2)), "corridor[0].to_hz");
    EXPECT_EQ(place(flat_goal(-1, 100, 2, 2)), "corridor[0].from_hz");
    EXPECT_EQ(place(flat_goal(10, 100, -2, 1)), "corridor[0].above_db") << "edges cross";
    EXPECT_EQ(place(flat_goal(10, 100, -2, 2)), "corridor[0].above_db") << "edges meet";
    EXPECT_EQ(place(flat_goal(10, 100, {}, {})), "corridor[0].above_db");
    EXPECT_EQ(place(flat_goal(10, NAN, 1, 1)), "corridor[0].to_hz");
    Goal goal = flat_goal(10, 100, 2, 2);
    goal.corridor[0].above_to_db = 5;
    EXPECT_TRUE(check(goal));
    goal.corridor[0].above_to_db = -2;
    EXPECT_EQ(place(goal), "corridor[0].above_to_db") << "edges meet at the far end";
    goal.corridor[0].above_to_db = NAN;
    EXPECT_EQ(place(goal), "corridor[0].above_to_db");
    goal.corridor[0] = {0, 100, 2, 2};
    goal.corridor[0].below_to_db = 5;
    EXPECT_EQ(place(goal), "corridor[0].below_to_db") << "no slope over log frequency from 0 Hz";
    goal.corridor[0] = {10, 100, 2, {}};
    goal.corridor[0].below_to_db = 5;
    EXPECT_EQ(place(goal), "corridor[0].below_to_db") << "a slope from nothing";
    goal = Goal();
    goal.target.points = {{100, 0, {}}, {50, 0, {}}};
    EXPECT_EQ(place(goal), "target.points[1].frequency_hz");
    goal.target.points = {{100, NAN, {}}};
    EXPECT_EQ(place(goal), "target.points[0].magnitude_db");
}

TEST(Verdict, FindsThePeaksGainAtItsFrequencyBetweenGridPoints) {
    // The frequency lies on no grid; a peak's maximum is its gain, exactly there.
    const auto verdict = judge_chain(flat_goal(40, 16000, 2, 2), {peak(1234.5678, 3.25, 20)});
    ASSERT_EQ(verdict.size(), 2u);
    EXPECT_EQ(verdict[0].outcome, Outcome::not_met);
    EXPECT_NEAR(*verdict[0].value, 3.25, 1e-9);
    EXPECT_NEAR(*verdict[0].margin, -1.25, 1e-9);
    EXPECT_EQ(*verdict[0].limit, 2);
    EXPECT_NEAR(*verdict[0].worst_hz, 1234.5678, 0.01);
    EXPECT_EQ(verdict[1].requirement, "stability");
    EXPECT_EQ(verdict[1].outcome, Outcome::met);
    EXPECT_FALSE(is_met(verdict));
}

TEST(Verdict, SeesANotchAHundredthOfAHertzWideByAThousandthOfADecibel) {
    // Q = 1234.5678 / 0.01; the corridor is missed by 0.001 dB in that hundredth of a hertz only.
    const double q = 1234.5678 / 0.01;
    const auto missed = judge_chain(flat_goal(40, 16000, 2, 2.999), {peak(1234.5678, -3, q / 1.5)});
    EXPECT_EQ(missed[0].outcome, Outcome::not_met);
    EXPECT_NEAR(*missed[0].margin, -0.001, 1e-6);
    const auto kept = judge_chain(flat_goal(40, 16000, 2, 3.001), {peak(1234.5678, -3, q / 1.5)});
    EXPECT_EQ(kept[0].outcome, Outcome::met);
}

TEST(Verdict, WorksOnEitherSideAndOneSided) {
    EXPECT_NEAR(*judge_chain(flat_goal(40, 16000, 2, 2), {peak(500, -5, 3)})[0].value, -5, 1e-9);
    EXPECT_TRUE(is_met(judge_chain(flat_goal(40, 16000, 2, {}), {peak(500, -50, 3)})))
        << "open below";
    EXPECT_FALSE(is_met(judge_chain(flat_goal(40, 16000, {}, 2), {peak(500, -50, 3)})));
}

TEST(Verdict, ASlopingCeilingIsHeldWhereItIs) {
    // A first-order low-pass far above its edge falls by 6.02 dB an octave: beside a ceiling of
    // that slope the margin hardly changes, below one of half the slope it is least at the near end
    // and below one of twice the slope at the far end.
    const auto chain = parametric(ParametricShape::low_pass, 20, 0, 1);
    auto spec = chain;
    spec.order = 1;
    const std::vector<Filter> low_pass{parametric_filter(spec, rate).value()};
    const auto judged = [&](double by_octave) {
        Goal goal = flat_goal(200, 1600, -14, {});
        goal.corridor[0].absolute = true;
        goal.corridor[0].above_to_db = -14 - 3 * by_octave;
        return judge_chain(goal, low_pass)[0];
    };
    const auto low_pass_db = [](double hz) { // bilinear
        const auto warped = [](double f) { return std::tan(std::numbers::pi * f / rate); };
        return -db_from_ratio(std::hypot(1, warped(hz) / warped(20)));
    };
    EXPECT_NEAR(*judged(3).margin, -14 - low_pass_db(200), 1e-9);
    EXPECT_NEAR(*judged(3).worst_hz, 200, 1e-6);
    EXPECT_NEAR(*judged(12).worst_hz, 1600, 1e-6);
    EXPECT_NEAR(*judged(12).limit, -50, 1e-9);
    EXPECT_NEAR(*judged(12).value, low_pass_db(1600), 1e-9);
    EXPECT_EQ(judged(3).outcome, Outcome::met);
    EXPECT_EQ(judged(12).outcome, Outcome::not_met);
}

TEST(Verdict, TakesTheTargetsAndTheMeasuredCurvesCorners) {
    Curve curve;
    // A tooth between two points that no logarithmic grid holds.
    curve.frequency_hz = {20, 999.1, 1000.3, 1001.7, 20000};
    curve.magnitude_db = {0, 0, 4, 0, 0};
    const CurveReader measured(curve);
    const auto verdict = judge_chain(flat_goal(40, 16000, 2, 2), {}, &measured);
    EXPECT_NEAR(*verdict[0].value, 4, 1e-9);
    EXPECT_NEAR(*verdict[0].worst_hz, 1000.3, 1e-6);
    Goal goal = flat_goal(40, 16000, 1, 1);
    goal.target.points = {{500, 0, {}}, {777, 2.5, {}}, {1200, 0, {}}};
    const auto against_target = judge_chain(goal, {});
    EXPECT_NEAR(*against_target[0].value, -2.5, 1e-9);
    EXPECT_NEAR(*against_target[0].worst_hz, 777, 1e-6);
}

TEST(Verdict, FindsOneToothInAMillionPoints) {
    Curve curve;
    for (int i = 1; i <= 1'000'000; ++i) {
        curve.frequency_hz.push_back(i * 0.02);
        curve.magnitude_db.push_back(i == 333'333 ? 3.0 : 0.0);
    }
    const CurveReader measured(curve);
    const auto verdict = judge_chain(flat_goal(40, 16000, 2, 2), {peak(8000, 0.5, 1)}, &measured);
    EXPECT_NEAR(*verdict[0].worst_hz, 333'333 * 0.02, 1e-6);
    EXPECT_GT(*verdict[0].value, 3.0);
}

TEST(Verdict, ReportsTheClosestApproachWhenMet) {
    const auto verdict =
        judge_chain(flat_goal(40, 16000, 6, 6), {peak(300, 4, 2), peak(3000, -5, 2)});
    EXPECT_EQ(verdict[0].outcome, Outcome::met);
    EXPECT_NEAR(*verdict[0].worst_hz, 3000, 10);
    EXPECT_NEAR(*verdict[0].margin, 1, 0.02);
}

TEST(Verdict, IsNeverASilentPass) {
    const auto beyond_nyquist = judge_chain(flat_goal(40, 30000, 2, 2), {});
    EXPECT_EQ(beyond_nyquist[0].outcome, Outcome::undecided);
    EXPECT_FALSE(beyond_nyquist[0].reason.empty());
    EXPECT_FALSE(is_met(beyond_nyquist));
    Curve curve;
    curve.frequency_hz = {100, 1000};
    curve.magnitude_db = {0, 0};
    const CurveReader measured(curve);
    EXPECT_EQ(judge_chain(flat_goal(40, 900, 2, 2), {}, &measured)[0].outcome, Outcome::undecided);
    EXPECT_EQ(judge_chain(flat_goal(100, 1000, 2, 2), {}, &measured)[0].outcome, Outcome::met);
    const auto crossing = judge_chain(flat_goal(40, 900, -2, 1), {});
    EXPECT_EQ(crossing[0].outcome, Outcome::undecided);
    EXPECT_FALSE(is_met(undecided_verdict(nullptr, "because")));
}

TEST(Verdict, AZeroOfTheChainIsOutsideWithoutANumber) {
    ParametricSpec notch;
    notch.shape = ParametricShape::high_pass;
    notch.frequency_hz = 100;
    const auto verdict =
        judge_chain(flat_goal(0, 1000, 2, 2), {parametric_filter(notch, rate).value()});
    EXPECT_EQ(verdict[0].outcome, Outcome::not_met);
    EXPECT_FALSE(verdict[0].margin.has_value()) << "infinitely far out is no number";
}

TEST(Verdict, UnstableChainsFail) {
    const std::vector<Filter> chain = {Filter(Cascade{{Biquad{1, 0, 0, -2.1, 1.2}}})};
    const auto verdict = judge(nullptr, Prediction(series(chain), nullptr, rate));
    ASSERT_EQ(verdict.size(), 1u);
    EXPECT_EQ(verdict[0].outcome, Outcome::not_met);
    EXPECT_LT(*verdict[0].margin, 0);
}

TEST(VerdictText, IsOneLineWithAllNumbers) {
    const auto verdict = judge_chain(flat_goal(40, 16000, 2, 2), {peak(1000, 3, 2)});
    EXPECT_EQ(
        line_of("zenith", verdict[0]),
        "zenith: corridor 0.04–16 kHz: NOT MET, value 3 dB, limit 2 dB, margin -1 dB at 1000 Hz");
}

} // namespace
} // namespace syntonon
