// Requirements against closed forms of simple sections.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/requirement.h"

#include "core/base/units.h"
#include "core/design/parametric.h"
#include "core/filter/form.h"
#include "core/goal/verdict.h"
#include "tests/support/rate.h"
#include "tests/support/section.h"

#include <cmath>
#include <functional>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

Duration samples(double count) {
    return {count, TimeUnit::samples};
}

Finding judge_one(RequirementSpec spec, const std::vector<Filter>& chain,
                  const CurveReader* measured = nullptr) {
    Goal goal;
    goal.requirements = {{std::move(spec), {}}};
    return judge(&goal, Prediction(series(chain), measured, rate)).at(0);
}

TEST(Requirement, RippleIsHighestMinusLowest) {
    const std::vector<Filter> chain = {section(ParametricShape::peak, 500, 1.25, 4),
                                       section(ParametricShape::peak, 5000, -0.75, 4)};
    const Finding wide = judge_one(RippleRequirement{100, 10000, 2.1}, chain);
    EXPECT_EQ(wide.outcome, Outcome::met);
    EXPECT_NEAR(*wide.value, 2.0, 0.01) << "the bells hardly overlap";
    EXPECT_NEAR(*wide.margin, 2.1 - *wide.value, 1e-12);
    EXPECT_NEAR(*wide.worst_hz, 500, 2);
    const Finding narrow = judge_one(RippleRequirement{100, 10000, 1.9}, chain);
    EXPECT_EQ(narrow.outcome, Outcome::not_met);
    // One bell alone: from 0 dB far away to its gain exactly.
    const Finding single =
        judge_one(RippleRequirement{0, 24000, 1}, {section(ParametricShape::peak, 777.7, 0.5, 30)});
    EXPECT_NEAR(*single.value, 0.5, 1e-9);
}

TEST(Requirement, MoreRipplesThanCanBeLookedAtAreNotPassedInSilence) {
    const std::vector<Filter> hour = {
        Filter(ParallelSum{{{1, Filter()}, {0.5, Filter(Delay{172'800'000})}}})};
    for (const RequirementSpec& spec :
         {RequirementSpec(RippleRequirement{100, 10000, 40}),
          RequirementSpec(PeakGainRequirement{40}),
          RequirementSpec(DelayVariationRequirement{100, 10000, samples(1e12)})}) {
        const Finding finding = judge_one(spec, hour);
        EXPECT_EQ(finding.outcome, Outcome::undecided);
        EXPECT_NE(finding.reason.find("ripples"), std::string::npos) << finding.reason;
    }
    // In a range that holds few of them each one is looked at.
    const Finding few = judge_one(RippleRequirement{1000, 1001, 40}, hour);
    EXPECT_NEAR(*few.value, db_from_ratio(1.5 / 0.5), 1e-6);
    // A longer delay that is not added to anything makes none.
    EXPECT_EQ(judge_one(PeakGainRequirement{0.1}, {Filter(Delay{172'800'000})}).outcome,
              Outcome::met);
}

TEST(Requirement, AttenuationOfAButterworthLowPass) {
    // |H|^2 = 1 / (1 + x^4) with x = tan(w/2)/tan(w0/2), falling; the worst place is the stopband's
    // start.
    const std::vector<Filter> chain = {section(ParametricShape::low_pass, 1000)};
    const double x = std::tan(pi * 8000 / rate) / std::tan(pi * 1000 / rate);
    const double expected = 10 * std::log10(1 + std::pow(x, 4));
    const Finding finding = judge_one(AttenuationRequirement{8000, 20000, 30}, chain);
    EXPECT_NEAR(*finding.value, expected, 1e-9);
    EXPECT_NEAR(*finding.worst_hz, 8000, 1e-6);
    EXPECT_EQ(finding.outcome, expected >= 30 ? Outcome::met : Outcome::not_met);
    EXPECT_EQ(judge_one(AttenuationRequirement{8000, 20000, expected + 0.001}, chain).outcome,
              Outcome::not_met);
    EXPECT_EQ(judge_one(AttenuationRequirement{8000, 20000, expected - 0.001}, chain).outcome,
              Outcome::met);
}

TEST(Requirement, LevelAtOneFrequency) {
    const std::vector<Filter> chain = {section(ParametricShape::low_pass, 2000)};
    const Finding corner = judge_one(LevelRequirement{2000, -3.1, -2.9}, chain);
    EXPECT_EQ(corner.outcome, Outcome::met);
    EXPECT_NEAR(*corner.value, -10 * std::log10(2.0), 1e-9);
    const Finding one_sided = judge_one(LevelRequirement{2000, std::nullopt, -6}, chain);
    EXPECT_EQ(one_sided.outcome, Outcome::not_met);
    EXPECT_NEAR(*one_sided.margin, -6 + 10 * std::log10(2.0), 1e-9);
    EXPECT_EQ(*one_sided.limit, -6);
}

TEST(Requirement, CrossingOfMinusThreeDecibels) {
    // The half-power frequency of a Butterworth low-pass is its corner.
    const std::vector<Filter> chain = {section(ParametricShape::low_pass, 17500)};
    const double half_power_db = -10 * std::log10(2.0);
    const Finding met = judge_one(CrossingRequirement{half_power_db, 17000, 18000}, chain);
    EXPECT_EQ(met.outcome, Outcome::met);
    EXPECT_NEAR(*met.value, 17500, 1e-4);
    EXPECT_EQ(met.unit, "Hz");
    EXPECT_NEAR(*met.margin, 500, 1e-4);
    const Finding missed = judge_one(CrossingRequirement{half_power_db, 16000, 17000}, chain);
    EXPECT_EQ(missed.outcome, Outcome::not_met);
    EXPECT_NEAR(*missed.margin, -500, 1e-4);
    const Finding never = judge_one(CrossingRequirement{-3, 1000, 2000}, {});
    EXPECT_EQ(never.outcome, Outcome::undecided);
    EXPECT_NE(never.reason.find("never"), std::string::npos);
}

TEST(Requirement, TheNearestOfSeveralCrossingsCounts) {
    // A band-pass passes -3 dB on either side.
    const std::vector<Filter> chain = {section(ParametricShape::band_pass, 1000, 0, 2)};
    const double half_power_db = -10 * std::log10(2.0);
    const Finding low = judge_one(CrossingRequirement{half_power_db, 700, 900}, chain);
    const Finding high = judge_one(CrossingRequirement{half_power_db, 1100, 1400}, chain);
    EXPECT_EQ(low.outcome, Outcome::met);
    EXPECT_EQ(high.outcome, Outcome::met);
    // Their product is the centre's square on the tangent-warped axis.
    const auto warped = [](double hz) { return std::tan(pi * hz / rate); };
    EXPECT_NEAR(warped(*low.value) * warped(*high.value) / std::pow(warped(1000), 2), 1, 1e-9);
}

TEST(Requirement, GroupDelayWithinABand) {
    // A first-order all-pass (analog (w0 - s)/(w0 + s)) delays most at 0 Hz: 1/tan(w0/2) samples.
    const std::vector<Filter> chain = {section(ParametricShape::all_pass, 3000, 0, 1, 1)};
    const double at_zero = 1 / std::tan(pi * 3000 / rate);
    const Finding finding =
        judge_one(GroupDelayRequirement{0, 100, samples(at_zero), samples(0.01)}, chain);
    EXPECT_EQ(finding.outcome, Outcome::met);
    const Finding strict =
        judge_one(GroupDelayRequirement{0, 6000, samples(at_zero), samples(0.1)}, chain);
    EXPECT_EQ(strict.outcome, Outcome::not_met);
    EXPECT_NEAR(*strict.worst_hz, 6000, 1e-6) << "the delay falls with frequency";
    EXPECT_LT(*strict.value, at_zero - 0.1);
    EXPECT_NEAR(*strict.limit, at_zero - 0.1, 1e-12);
    EXPECT_EQ(strict.unit, "samples");
}

TEST(Requirement, PeakGainIsFoundAnywhereAndIgnoresTheMeasurement) {
    const std::vector<Filter> chain = {section(ParametricShape::peak, 12345.6, 6, 800),
                                       section(ParametricShape::low_shelf, 50, -3)};
    Curve loud;
    loud.frequency_hz = {20, 20000};
    loud.magnitude_db = {90, 90};
    const CurveReader measured(loud);
    const Finding finding = judge_one(PeakGainRequirement{6.0001}, chain, &measured);
    EXPECT_NEAR(*finding.value, 6, 1e-4);
    EXPECT_NEAR(*finding.worst_hz, 12345.6, 0.1);
    EXPECT_EQ(finding.outcome, Outcome::met);
}

TEST(Requirement, LatencySectionsAndStability) {
    const std::vector<Filter> chain = {
        Filter(Cascade{{Biquad{0, 0, 1, 0, 0}, Biquad{1, 0, 0, -0.99, 0}}})};
    EXPECT_EQ(judge_one(LatencyRequirement{samples(2)}, chain).outcome, Outcome::met);
    EXPECT_EQ(judge_one(LatencyRequirement{samples(1)}, chain).outcome, Outcome::not_met);
    EXPECT_EQ(*judge_one(LatencyRequirement{samples(1)}, chain).margin, -1);
    EXPECT_EQ(judge_one(SectionsRequirement{2}, chain).outcome, Outcome::met);
    EXPECT_EQ(judge_one(SectionsRequirement{1}, chain).outcome, Outcome::not_met);
    EXPECT_EQ(judge_one(StabilityRequirement{0.005}, chain).outcome, Outcome::met);
    EXPECT_NEAR(*judge_one(StabilityRequirement{0.02}, chain).margin, -0.01, 1e-12);
}

TEST(Requirement, TransitionWidthOfAButterworthLowPass) {
    // The level of order 2 is -10 log10(1 + x^4), x = tan(w/2)/tan(w0/2): it passes -d dB where
    // x = (10^(d/10) - 1)^(1/4).
    const std::vector<Filter> chain = {section(ParametricShape::low_pass, 1000)};
    const auto passes = [](double d) {
        const double x = std::pow(std::pow(10, d / 10) - 1, 0.25);
        return rate / pi * std::atan(x * std::tan(pi * 1000 / rate));
    };
    const double width = passes(40) - passes(1);
    const Finding kept =
        judge_one(TransitionWidthRequirement{100, 23000, -1, -40, width + 1e-3}, chain);
    EXPECT_EQ(kept.outcome, Outcome::met);
    EXPECT_NEAR(*kept.value, width, 1e-6);
    EXPECT_EQ(kept.unit, "Hz");
    const Finding missed =
        judge_one(TransitionWidthRequirement{100, 23000, -1, -40, width - 1e-3}, chain);
    EXPECT_EQ(missed.outcome, Outcome::not_met);
    EXPECT_EQ(judge_one(TransitionWidthRequirement{100, 900, -1, -40, 1e4}, chain).outcome,
              Outcome::undecided)
        << "the stop level is not reached in the range";
}

TEST(Requirement, TheWidestOfSeveralTransitionsCounts) {
    const std::vector<Filter> band = {section(ParametricShape::high_pass, 500),
                                      section(ParametricShape::low_pass, 5000)};
    const Finding upper = judge_one(TransitionWidthRequirement{1000, 23000, -3, -20, 1}, band);
    const Finding lower = judge_one(TransitionWidthRequirement{20, 1500, -3, -20, 1}, band);
    const Finding both = judge_one(TransitionWidthRequirement{20, 23000, -3, -20, 1}, band);
    EXPECT_LT(*lower.value, *upper.value);
    EXPECT_NEAR(*both.value, *upper.value, 1e-6);
}

TEST(Requirement, DelaysInMillisecondsAndTheirVariation) {
    const std::vector<Filter> chain = {section(ParametricShape::all_pass, 3000, 0, 1, 1)};
    const auto delay_ms = [&](double hz) {
        return chain[0].response_at(hz, rate).group_delay_samples / rate * 1e3;
    };
    const Duration ms{delay_ms(0), TimeUnit::ms};
    const Finding band =
        judge_one(GroupDelayRequirement{0, 6000, ms, Duration{0.01, TimeUnit::ms}}, chain);
    EXPECT_EQ(band.unit, "ms");
    EXPECT_NEAR(*band.value, delay_ms(6000), 1e-12);
    EXPECT_NEAR(*band.limit, delay_ms(0) - 0.01, 1e-12);
    const Finding variation =
        judge_one(DelayVariationRequirement{0, 6000, Duration{1, TimeUnit::s}}, chain);
    EXPECT_NEAR(*variation.value, (delay_ms(0) - delay_ms(6000)) * 1e-3, 1e-12);
    EXPECT_EQ(variation.outcome, Outcome::met);
}

TEST(Requirement, PhaseWithinABandWholeTurnsApart) {
    // First-order all-pass: -2 atan(tan(w/2)/tan(w0/2)); -90 degrees at its frequency.
    const std::vector<Filter> chain = {section(ParametricShape::all_pass, 1000, 0, 1, 1)};
    const auto phase = [](double hz) {
        return deg_from_rad(-2 * std::atan(std::tan(pi * hz / rate) / std::tan(pi * 1000 / rate)));
    };
    const Finding kept = judge_one(PhaseRequirement{900, 1100, -90, 12}, chain);
    EXPECT_EQ(kept.outcome, Outcome::met);
    EXPECT_NEAR(*kept.margin, 12 - std::abs(phase(900) + 90), 1e-9);
    EXPECT_EQ(kept.unit, "°");
    const Finding turned = judge_one(PhaseRequirement{900, 1100, 270, 12}, chain);
    EXPECT_EQ(turned.outcome, Outcome::met) << "270 is -90";
    EXPECT_NEAR(*turned.margin, *kept.margin, 1e-9);
    const Finding missed = judge_one(PhaseRequirement{100, 1100, -90, 12}, chain);
    EXPECT_EQ(missed.outcome, Outcome::not_met);
    EXPECT_NEAR(*missed.worst_hz, 100, 1e-6);
}

TEST(Requirement, PhaseAndDelayFollowTheGoalsTargets) {
    const std::vector<Filter> chain = {section(ParametricShape::all_pass, 1000, 0, 1, 1)};
    const auto at = [&](double hz) { return chain[0].response_at(hz, rate); };
    Goal goal;
    goal.phase_target = TargetLine{{{1000, deg_from_rad(at(1000).phase_rad), {}}}};
    goal.delay_target = TargetLine{{{1000, at(1000).group_delay_samples / rate * 1e3, {}}}};
    goal.requirements = {{PhaseRequirement{999.9, 1000.1, {}, 0.1}},
                         {GroupDelayRequirement{999.9, 1000.1, {}, samples(0.01)}},
                         {PhaseRequirement{100, 2000, {}, 0.1}}};
    const Verdict verdict = judge(&goal, Prediction(series(chain), nullptr, rate));
    EXPECT_EQ(verdict[0].outcome, Outcome::met);
    EXPECT_EQ(verdict[1].outcome, Outcome::met);
    EXPECT_EQ(verdict[2].outcome, Outcome::not_met);
    goal.phase_target.reset();
    const Verdict without = judge(&goal, Prediction(series(chain), nullptr, rate));
    EXPECT_EQ(without[0].outcome, Outcome::undecided) << "nothing to hold it against";
}

TEST(Requirement, TimesOfAOnePoleSmoother) {
    // y[n] = (1-r) x[n] + r y[n-1]: the step response is 1 - r^(n+1), without overshoot.
    const double r = 0.9;
    const std::vector<Filter> chain = {Filter(Cascade{{Biquad{1 - r, 0, 0, -r, 0}}})};
    const Finding settling = judge_one(SettlingTimeRequirement{1, samples(100)}, chain);
    EXPECT_EQ(*settling.value, std::ceil(std::log(0.01) / std::log(r) - 1));
    const Finding over = judge_one(OvershootRequirement{0}, chain);
    EXPECT_EQ(over.outcome, Outcome::met);
    EXPECT_NEAR(*over.value, 0, 1e-9);
    const Finding decay = judge_one(DecayTimeRequirement{60, Duration{1, TimeUnit::ms}}, chain);
    EXPECT_NEAR(*decay.value, std::log(1e-3) / std::log(r) / 48, 1e-9);
    EXPECT_EQ(decay.outcome, Outcome::not_met);
    EXPECT_EQ(judge_one(PreRingingRequirement{-40}, chain).outcome, Outcome::met);
    EXPECT_EQ(judge_one(PreRingingTimeRequirement{-60, samples(0)}, chain).outcome, Outcome::met);
}

TEST(Requirement, PreRingingOfASymmetricResponse) {
    // 0.25, 1, 0.25: energy before the peak is 1/16 of 1.125; the first sample is 12 dB down.
    const std::vector<Filter> chain = {Filter(Cascade{{Biquad{0.25, 1, 0.25, 0, 0}}})};
    const Finding energy = judge_one(PreRingingRequirement{-10}, chain);
    EXPECT_NEAR(*energy.value, 10 * std::log10(0.0625 / 1.125), 1e-9);
    EXPECT_EQ(*judge_one(PreRingingTimeRequirement{-13, samples(0)}, chain).value, 1);
    EXPECT_EQ(judge_one(PreRingingTimeRequirement{-13, samples(0)}, chain).outcome,
              Outcome::not_met);
    EXPECT_EQ(*judge_one(PreRingingTimeRequirement{-11, samples(0)}, chain).value, 0);
}

TEST(Requirement, TimesThatDoNotExistAreUndecided) {
    const std::vector<Filter> unstable = {Filter(Cascade{{Biquad{1, 0, 0, -1.01, 0}}})};
    for (const RequirementSpec& spec : std::initializer_list<RequirementSpec>{
             SettlingTimeRequirement{}, OvershootRequirement{}, PreRingingRequirement{}}) {
        EXPECT_EQ(judge_one(spec, unstable).outcome, Outcome::undecided);
    }
    EXPECT_EQ(judge_one(DecayTimeRequirement{}, unstable).outcome, Outcome::not_met);
    const std::vector<Filter> high_pass = {section(ParametricShape::high_pass, 1000)};
    EXPECT_EQ(judge_one(OvershootRequirement{50}, high_pass).outcome, Outcome::undecided);
    EXPECT_EQ(judge_one(SettlingTimeRequirement{1, Duration{50, TimeUnit::ms}}, high_pass).outcome,
              Outcome::met);
}

TEST(Requirement, CascadesHaveNoTaps) {
    EXPECT_EQ(judge_one(TapsRequirement{0}, {section(ParametricShape::peak, 100, 3)}).outcome,
              Outcome::met);
}

TEST(Requirement, NothingThatCannotBeKnownPasses) {
    EXPECT_EQ(judge_one(RippleRequirement{100, 30000, 1}, {}).outcome, Outcome::undecided);
    EXPECT_EQ(judge_one(AttenuationRequirement{100, 30000, 1}, {}).outcome, Outcome::undecided);
    EXPECT_EQ(judge_one(GroupDelayRequirement{100, 30000, samples(0), samples(1)}, {}).outcome,
              Outcome::undecided);
    EXPECT_EQ(judge_one(LevelRequirement{30000, -1, 1}, {}).outcome, Outcome::undecided);
    EXPECT_EQ(judge_one(UnknownRequirement{"loveliness"}, {}).outcome, Outcome::undecided);
    const std::vector<Filter> silent = {Filter(Cascade{{Biquad{0, 0, 0, 0, 0}}})};
    EXPECT_EQ(judge_one(GroupDelayRequirement{100, 1000, samples(0), samples(1)}, silent).outcome,
              Outcome::undecided)
        << "where nothing comes through there is no delay";
    Curve narrow;
    narrow.frequency_hz = {100, 1000};
    narrow.magnitude_db = {0, 0};
    const CurveReader measured(narrow);
    EXPECT_EQ(judge_one(RippleRequirement{50, 500, 1}, {}, &measured).outcome, Outcome::undecided);
    EXPECT_EQ(judge_one(LevelRequirement{2000, -1, 1}, {}, &measured).outcome, Outcome::undecided);
    EXPECT_EQ(judge_one(RippleRequirement{100, 1000, 1}, {}, &measured).outcome, Outcome::met);
}

TEST(Requirement, ContradictionsAreUndecidedAndHideNothingElse) {
    Goal goal;
    goal.target.points = {{1000, 0, {}}};
    goal.corridor = {{40, 16000, 2, 2, {}}};
    goal.requirements = {{LevelRequirement{1000, 3, -3}, {}}, {LatencyRequirement{samples(0)}, {}}};
    const Verdict verdict = judge(&goal, Prediction(Filter(), nullptr, rate));
    ASSERT_EQ(verdict.size(), 4u);
    EXPECT_EQ(verdict[0].outcome, Outcome::met);
    EXPECT_EQ(verdict[1].outcome, Outcome::undecided);
    EXPECT_NE(verdict[1].reason.find("max_db"), std::string::npos);
    EXPECT_EQ(verdict[2].outcome, Outcome::met);
    EXPECT_FALSE(is_met(verdict));
    EXPECT_EQ(check(goal).error().place, "requirements[0].max_db");
    EXPECT_EQ(undecided_verdict(&goal, "why").size(), 4u);
}

TEST(Requirement, RefusesNamingTheField) {
    const auto place = [](RequirementSpec spec) {
        const auto ok = check(Requirement{std::move(spec), {}});
        return ok ? std::string("fine") : ok.error().place;
    };
    EXPECT_EQ(place(RippleRequirement{200, 100, 1}), "to_hz");
    EXPECT_EQ(place(RippleRequirement{-1, 100, 1}), "from_hz");
    EXPECT_EQ(place(RippleRequirement{10, 100, -1}), "max_db");
    EXPECT_EQ(place(AttenuationRequirement{10, 100, NAN}), "min_db");
    EXPECT_EQ(place(LevelRequirement{-5, -1, 1}), "at_hz");
    EXPECT_EQ(place(LevelRequirement{5, std::nullopt, std::nullopt}), "min_db");
    EXPECT_EQ(place(CrossingRequirement{-3, 200, 100}), "max_hz");
    EXPECT_EQ(place(CrossingRequirement{NAN, 100, 200}), "level_db");
    EXPECT_EQ(place(GroupDelayRequirement{0, 100, samples(5), samples(-1)}), "tolerance_samples");
    EXPECT_EQ(place(LatencyRequirement{samples(-1)}), "max_samples");
    EXPECT_EQ(place(LatencyRequirement{Duration{-1, TimeUnit::ms}}), "max_ms");
    EXPECT_EQ(place(TransitionWidthRequirement{100, 200, -3, -2, 10}), "stop_db");
    EXPECT_EQ(place(PhaseRequirement{100, 200, 0, -1}), "tolerance_deg");
    EXPECT_EQ(place(PhaseRequirement{100, 200, INFINITY, 1}), "value_deg");
    EXPECT_EQ(place(PreRingingTimeRequirement{3, samples(1)}), "threshold_db");
    EXPECT_EQ(place(SettlingTimeRequirement{0, samples(1)}), "within_percent");
    EXPECT_EQ(place(DecayTimeRequirement{-60, samples(1)}), "fall_db");
    EXPECT_EQ(place(StabilityRequirement{2}), "min_margin");
    EXPECT_EQ(place(SectionsRequirement{NAN}), "max_sections");
    EXPECT_EQ(place(PeakGainRequirement{INFINITY}), "max_db");
    EXPECT_EQ(place(StabilityRequirement{0.1}), "fine");
}

TEST(Requirement, TitlesSayWhatAndWhere) {
    EXPECT_EQ(title_of(Requirement{RippleRequirement{40, 250, 1}, {}}), "ripple 40–250 Hz");
    EXPECT_EQ(title_of(Requirement{LevelRequirement{1000, -1, 1}, {}}), "level at 1 kHz");
    EXPECT_EQ(title_of(Requirement{CrossingRequirement{-3, 1, 2}, {}}), "crossing of -3 dB");
    EXPECT_EQ(title_of(Requirement{UnknownRequirement{"loveliness"}, {}}), "loveliness");
}

} // namespace
} // namespace syntonon
