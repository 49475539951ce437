// Verdicts where the level vanishes, at the ends of the frequencies and on plateaus.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/units.h"
#include "core/design/parametric.h"
#include "core/filter/taps.h"
#include "core/goal/verdict.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

using Shape = ParametricShape;

Filter section_at(Shape shape, double hz, double gain_db, double q, double rate, int order = 2) {
    return parametric_filter(parametric(shape, hz, gain_db, q, order), rate).value();
}

Finding judge_one(const RequirementSpec& spec, const Filter& chain, double rate = 48000) {
    Goal goal;
    goal.requirements = {{spec, {}}};
    return judge(&goal, Prediction(chain, nullptr, rate)).at(0);
}

Duration samples_as_duration(double value) {
    return {value, TimeUnit::samples};
}

// A value, its limit and the margin between them must tell the same story.
void expect_consistent(const Finding& finding) {
    ASSERT_TRUE(finding.value && finding.limit && finding.margin) << finding.reason;
    EXPECT_NEAR(std::abs(*finding.limit - *finding.value), std::abs(*finding.margin), 1e-9);
    EXPECT_EQ(finding.outcome == Outcome::met, *finding.margin >= 0);
}

TEST(Zeros, AHighPassHasAPhaseDownToItsZeroAt0Hz) {
    // Second order turns by 180 degrees at 0 Hz, seen from above, first order by 90.
    const Filter second = section_at(Shape::high_pass, 1000, 0, 0.7, 48000);
    const Finding finding = judge_one(PhaseRequirement{0, 20, 180, 30}, second);
    expect_consistent(finding);
    EXPECT_NEAR(*finding.margin, 28.4, 0.1);
    EXPECT_NEAR(*finding.worst_hz, 20, 1e-9);
    const Finding from_above = judge_one(PhaseRequirement{1e-6, 20, 180, 30}, second);
    EXPECT_NEAR(*finding.margin, *from_above.margin, 1e-9);
    for (const auto& [shape, order] : {std::pair(Shape::high_pass, 1), {Shape::band_pass, 2}}) {
        const Filter filter = section_at(shape, 1000, 0, 0.7, 48000, order);
        const Finding at_zero = judge_one(PhaseRequirement{0, 10, 90, 5}, filter);
        expect_consistent(at_zero);
        EXPECT_EQ(at_zero.outcome, Outcome::met);
    }
}

TEST(Zeros, ALowPassHasAPhaseUpToItsZeroAtHalfTheRate) {
    const Filter low = section_at(Shape::low_pass, 1000, 0, 0.7, 48000);
    const Finding finding = judge_one(PhaseRequirement{23900, 24000, 180, 5}, low);
    expect_consistent(finding);
    EXPECT_EQ(finding.outcome, Outcome::met);
    const Filter band = section_at(Shape::band_pass, 1000, 0, 0.7, 48000);
    EXPECT_EQ(judge_one(PhaseRequirement{23900, 24000, -90, 5}, band).outcome, Outcome::met);
}

TEST(Zeros, ANotchHasTwoPhasesAtItsZero) {
    // -90 degrees from below, +90 from above; 2 Q of them a relative bandwidth away.
    const Filter notch = section_at(Shape::notch, 6000, 0, 5, 48000);
    const Finding finding = judge_one(PhaseRequirement{5994, 6006, 180, 95}, notch);
    expect_consistent(finding);
    EXPECT_NEAR(*finding.margin, 4.3, 0.1);
    // At the zero itself both limits count, each from its own side only.
    const Finding inside = judge_one(PhaseRequirement{5994, 6006, 0, 80}, notch);
    EXPECT_NEAR(*inside.margin, -10, 1e-6);
    const Finding below = judge_one(PhaseRequirement{5994, 6000, -90, 1}, notch);
    EXPECT_EQ(below.outcome, Outcome::met) << *below.value;
}

TEST(Zeros, DelayIsRightBesideAZeroAtHalfTheRate) {
    // A first-order low-pass by the bilinear transform: its zero delays by half a sample
    // everywhere, its pole p by (p cos w - p^2) / (1 - 2 p cos w + p^2).
    const Filter low = section_at(Shape::low_pass, 50, 0, 0.7, 16000, 1);
    const Finding finding =
        judge_one(DelayVariationRequirement{900, 8000, samples_as_duration(0.3)}, low, 16000);
    const double p = low.roots()->poles[0].real();
    const auto delay = [&](double hz) {
        const double c = std::cos(rad_per_sample_from_hz(hz, 16000));
        return (p * c - p * p) / (1 - 2 * p * c + p * p);
    };
    EXPECT_NEAR(*finding.value, delay(900) - delay(8000), 1e-9);
    EXPECT_NEAR(*finding.value, 0.1535, 1e-4);
    EXPECT_EQ(finding.outcome, Outcome::met);
    const Probe probe(low, 16000);
    for (const double below : {1e-3, 1e-6, 1e-9}) {
        EXPECT_NEAR(probe.group_delay_samples(8000 - below), 0.5 + delay(8000), 1e-9) << below;
    }
}

TEST(Zeros, EveryExtremumOfADelayIsFound) {
    std::vector<Filter> chain{
        parametric_filter({Shape::low_shelf, 2, 1238.804, -12.12, {WidthKind::slope, 0.65}}, 48000)
            .value(),
        section_at(Shape::all_pass, 20863.346, 0, 2.343, 48000),
        section_at(Shape::high_shelf, 6734.329, 5.84, 4.396, 48000)};
    const Filter filter = series(chain);
    const Finding finding =
        judge_one(DelayVariationRequirement{10645.46, 24000, samples_as_duration(1)}, filter);
    const auto grid = FrequencyGrid::linear(10645.46, 24000, 2'000'000, 48000).value();
    double low = INFINITY, high = -INFINITY;
    for (const double delay : filter.group_delay_samples(grid)) {
        low = std::min(low, delay);
        high = std::max(high, delay);
    }
    EXPECT_GE(*finding.value, high - low - 1e-9);
    EXPECT_NEAR(*finding.value, 23.338851, 1e-5);
}

TEST(Zeros, ARippleWithAZeroInsideIsWithoutEnd) {
    const Filter notch = section_at(Shape::notch, 6000, 0, 5, 48000);
    const Finding finding = judge_one(RippleRequirement{1000, 10000, 3}, notch);
    EXPECT_EQ(finding.outcome, Outcome::not_met);
    EXPECT_FALSE(finding.value || finding.margin);
    EXPECT_NEAR(*finding.worst_hz, 6000, 1e-3);
    EXPECT_NE(finding.reason.find("vanishes"), std::string::npos);
}

TEST(Plateaus, ACrossingOnOneIsPlacedAtItsNearEnd) {
    // The measured curve lies exactly at -3 dB from 1 to 2 kHz.
    Curve curve;
    curve.frequency_hz = {100, 1000, 2000, 10000};
    curve.magnitude_db = {0, -3, -3, -20};
    const CurveReader measured(curve);
    const auto crossing = [&](double low, double high) {
        Goal goal;
        goal.requirements = {{CrossingRequirement{-3, low, high}, {}}};
        return judge(&goal, Prediction(Filter(), &measured, 48000)).at(0);
    };
    EXPECT_NEAR(*crossing(500, 900).value, 1000, 1e-6);
    EXPECT_NEAR(*crossing(2100, 4000).value, 2000, 1e-6);
    EXPECT_NEAR(*crossing(1200, 1800).value, 1500, 1e-6) << "in the middle of what is wanted";
    EXPECT_EQ(crossing(1200, 1800).outcome, Outcome::met);
}

TEST(Plateaus, TouchingALevelIsNotPassingIt) {
    const Finding finding = judge_one(CrossingRequirement{0, 500, 900}, Filter());
    EXPECT_EQ(finding.outcome, Outcome::undecided);
}

TEST(Reasons, ACrossingMayBeWantedFrom0HzOn) {
    const Filter low = section_at(Shape::low_pass, 1000, 0, 0.7, 48000);
    const Finding finding = judge_one(CrossingRequirement{-3, 0, 2000}, low);
    EXPECT_EQ(finding.outcome, Outcome::met) << finding.reason;
}

TEST(Reasons, AGapInTheTargetIsCalledAGap) {
    Goal goal;
    goal.phase_target = TargetLine{};
    goal.phase_target->points = {{100, 0, {}}, {200, 0, Between::gap}, {5000, 0, {}}};
    goal.requirements = {{PhaseRequirement{300, 4000, {}, 10}, {}}};
    const Finding finding = judge(&goal, Prediction(Filter(), nullptr, 48000)).at(0);
    EXPECT_EQ(finding.outcome, Outcome::undecided);
    EXPECT_NE(finding.reason.find("gap"), std::string::npos) << finding.reason;
}

TEST(Reasons, ACorridorWithoutATargetIsUndecided) {
    Goal goal;
    goal.corridor = {{100, 1000, 1, 1}};
    const Prediction prediction(Filter(), nullptr, 48000);
    const Finding finding = judge(&goal, prediction).at(0);
    EXPECT_EQ(finding.outcome, Outcome::undecided);
    EXPECT_NE(finding.reason.find("target"), std::string::npos);
    goal.corridor[0].absolute = true;
    EXPECT_EQ(judge(&goal, prediction).at(0).outcome, Outcome::met);
}

TEST(Contradictions, TwoPhasesExcludeEachOtherAroundTheCircle) {
    const auto count = [](double first, double second, double tolerance) {
        Goal goal;
        goal.requirements = {{PhaseRequirement{100, 1000, first, tolerance}, {}},
                             {PhaseRequirement{900, 2000, second, tolerance}, {}}};
        return resolved(goal, 48000).contradictions.size();
    };
    EXPECT_EQ(count(170, -170, 9), 1u);
    EXPECT_EQ(count(170, -170, 11), 0u) << "20 degrees apart, across 180";
    EXPECT_EQ(count(0, 180, 80), 1u);
}

TEST(Contradictions, ALevelAboveThePeakGainNeedsAMeasuredCurve) {
    Goal goal;
    goal.requirements = {{PeakGainRequirement{3}, {}}, {LevelRequirement{1000, 6, 9}, {}}};
    EXPECT_EQ(resolved(goal, 48000, LevelOf::chain_alone).contradictions.size(), 1u);
    EXPECT_TRUE(resolved(goal, 48000, LevelOf::measured_and_chain).contradictions.empty());
    const Finding finding = judge(&goal, Prediction(Filter(), nullptr, 48000)).at(1);
    EXPECT_EQ(finding.outcome, Outcome::not_met);
    EXPECT_NE(finding.reason.find("peak gain"), std::string::npos) << finding.reason;
}

} // namespace
} // namespace syntonon
