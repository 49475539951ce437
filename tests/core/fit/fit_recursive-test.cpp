// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/fit_recursive.h"

#include "core/base/units.h"
#include "core/design/classical.h"
#include "core/design/parametric.h"
#include "core/filter/form.h"
#include "tests/support/rate.h"
#include "tests/support/section.h"

#include <algorithm>
#include <functional>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

// 0 to -6 dB over the audio range; above stands a bell.
Brief brief_with_bell_above() {
    Brief brief = brief_at(rate);
    brief.wished =
        std::make_shared<const Wished>(Wished{WishedPart{{20, 20'000}, {0, -6}, {}, {}, {}}});
    brief.above = section(ParametricShape::peak, 500, 6, 1);
    return brief;
}

double level_of_chain(const FittedSpec& spec, const Brief& brief, double hz) {
    return design(spec, brief, Watch())->filter.response_at(hz, rate).magnitude_db
           + brief.above.response_at(hz, rate).magnitude_db;
}

TEST(FitRecursive, MakesTheChainWhatIsWished) {
    const Brief brief = brief_with_bell_above();
    FittedSpec spec;
    const auto found = fit(spec, brief, Watch());
    ASSERT_TRUE(found) << to_text(found.error());
    EXPECT_EQ(found->poles.size(), 8U);
    for (const double hz : {30.0, 300.0, 500.0, 900.0, 5000.0, 15'000.0}) {
        EXPECT_NEAR(level_of_chain(*found, brief, hz), -2 * std::log10(hz / 20), 0.05) << hz;
    }
    const FitFigures figures = *figures_of_fit(*found, brief);
    EXPECT_GT(figures.together.before.rms_db, 2);
    EXPECT_LT(figures.together.after.worst_db, 0.05);
    EXPECT_TRUE(*fit(spec, brief, Watch()) == *found) << "the same each time";
}

TEST(FitRecursive, IsOutOfDateWhenTheAimOrTheSettingsChange) {
    Brief brief = brief_with_bell_above();
    FittedSpec found = *fit(FittedSpec{}, brief, Watch());
    EXPECT_FALSE(out_of_date(found, brief));
    brief.above = section(ParametricShape::peak, 500, 8, 1);
    EXPECT_NEAR(out_of_date(found, brief)->most_db, 2, 0.05);
    found.order = 10;
    EXPECT_TRUE(out_of_date(found, brief)->by_settings);
    EXPECT_FALSE(out_of_date(FittedSpec{}, brief)) << "never fitted";
}

TEST(FitRecursive, MatchesAPhaseWhereOneIsStated) {
    Brief brief = brief_at(rate);
    const Filter wanted = series(std::vector{section(ParametricShape::all_pass, 700, 0, 0.7),
                                             section(ParametricShape::peak, 2000, 5, 1)});
    WishedPart level;
    WishedLine phase;
    for (double hz = 20; hz < 20'000; hz *= 1.05) {
        const ResponsePoint at = wanted.response_at(hz, rate);
        level.frequency_hz.push_back(hz);
        level.level_db.push_back(at.magnitude_db);
        phase.frequency_hz.push_back(hz);
        phase.value.push_back(deg_from_rad(at.phase_rad));
    }
    brief.wished = std::make_shared<const Wished>(Wished{level});
    FittedSpec spec;
    spec.match = FittedMatch::complex;
    spec.order = 4;
    spec.to_hz = 15'000;
    const auto refused = fit(spec, brief, Watch());
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().place, "match");
    brief.wished_timing = std::make_shared<const WishedTiming>(WishedTiming{{phase}, {}});
    const FittedSpec found = *fit(spec, brief, Watch());
    const FitFigures figures = *figures_of_fit(found, brief);
    EXPECT_LT(figures.together.after.worst_db, 0.1);
    EXPECT_LT(figures.timing->after.worst, 1);
    EXPECT_GT(figures.timing->before.rms, 20);
}

TEST(FitRecursive, EqualisesADelayWithoutTouchingTheLevel) {
    Brief brief = brief_at(rate);
    ClassicalSpec low_pass;
    low_pass.family = ClassicalFamily::elliptic;
    low_pass.order = 6;
    low_pass.pass_ripple_db = 0.1;
    low_pass.stop_attenuation_db = 60;
    low_pass.edges_hz = {3000};
    brief.above = design(low_pass, brief_at(rate), Watch())->filter;
    FittedSpec spec;
    spec.match = FittedMatch::delay;
    spec.order = 8;
    spec.to_hz = 3000;
    spec.axis = FittedAxis::linear_frequency;
    const FittedSpec found = *fit(spec, brief, Watch());
    const FitFigures figures = *figures_of_fit(found, brief);
    EXPECT_TRUE(figures.timing->after.by_delay);
    EXPECT_LT(figures.timing->after.rms, figures.timing->before.rms / 5);
    const Filter filter = design(found, brief, Watch())->filter;
    for (const double hz : {0.0, 50.0, 1000.0, 2900.0, 9000.0, 24'000.0}) {
        EXPECT_NEAR(filter.response_at(hz, rate).magnitude_db, 0, 1e-10);
    }
    const double at = filter.response_at(800, rate).group_delay_samples
                      + brief.above.response_at(800, rate).group_delay_samples;
    EXPECT_NEAR(1e3 * at / rate, found.delay_ms, 3 * figures.timing->after.worst);
    EXPECT_FALSE(out_of_date(found, brief));
}

TEST(FitRecursive, OrdersThatArePlottedAreThoseOfFits) {
    const Brief brief = brief_with_bell_above();
    std::vector<int> heard;
    const auto errors = *errors_by_order(FittedSpec{}, brief, {2, 4, 6}, Watch(),
                                         [&](const OrderError& e) { heard.push_back(e.order); });
    EXPECT_EQ(heard, (std::vector{2, 4, 6}));
    ASSERT_EQ(errors.size(), 3U);
    EXPECT_GT(errors[0].rms, errors[2].rms);
    FittedSpec four;
    four.order = 4;
    const FittedSpec found = *fit(four, brief, Watch());
    EXPECT_NEAR(figures_of_fit(found, brief)->together.after.rms_db, errors[1].rms, 1e-6);
}

TEST(FitRecursive, RefusesWhatCannotBeFitted) {
    const auto place_of = [](const FittedSpec& spec, const Brief& brief) {
        const auto made = fit(spec, brief, Watch());
        return made ? std::string("fitted") : made.error().place;
    };
    EXPECT_EQ(place_of(FittedSpec{}, brief_at(rate)), "target");
    const Brief brief = brief_with_bell_above();
    FittedSpec spec;
    spec.to_hz = 30'000;
    EXPECT_EQ(place_of(spec, brief), "to_hz");
    spec = {};
    spec.from_hz = std::nextafter(spec.to_hz, 0);
    EXPECT_EQ(place_of(spec, brief), "to_hz");
    spec = {};
    spec.order = 61;
    EXPECT_EQ(place_of(spec, brief), "order");
    spec = {};
    Brief measured = brief;
    measured.seen.as_one =
        std::make_shared<const SampledCurve>(SampledCurve{{100, 10'000}, {0, 0}, {}});
    EXPECT_EQ(place_of(spec, measured), "from_hz");
    Brief analog = brief;
    analog.domain = Domain::analog;
    EXPECT_NE(place_of(spec, analog), "fitted");
}

TEST(PlacesOnAxis, AreEvenOnTheAxisThatIsAskedFor) {
    FittedSpec spec;
    spec.from_hz = 100;
    spec.to_hz = 20'000;
    for (const FittedAxis axis :
         {FittedAxis::log_frequency, FittedAxis::linear_frequency, FittedAxis::warped}) {
        spec.axis = axis;
        const auto hz = places_on_axis(spec, rate, 101);
        EXPECT_EQ(hz.front(), 100);
        EXPECT_EQ(hz.back(), 20'000);
        EXPECT_TRUE(std::ranges::is_sorted(hz));
    }
    spec.axis = FittedAxis::linear_frequency;
    EXPECT_NEAR(places_on_axis(spec, rate, 101)[50], 10'050, 1e-6);
    spec.axis = FittedAxis::log_frequency;
    EXPECT_NEAR(places_on_axis(spec, rate, 101)[50], std::sqrt(100 * 20'000.0), 1e-6);
    // A first-order all-pass of coefficient 0.75 bends the middle down: (1 - 0.75) / (1 + 0.75).
    spec.axis = FittedAxis::warped;
    spec.from_hz = 1e-3;
    spec.to_hz = 23'999.999;
    EXPECT_NEAR(places_on_axis(spec, rate, 101)[50], rate / pi * std::atan(0.25 / 1.75), 0.01);
}

// The taps of four poles and zeros, which are cut off where nothing is left of them.
Brief brief_with_fir_above() {
    const Filter ringing = series(std::vector{section(ParametricShape::peak, 900, 9, 4),
                                              section(ParametricShape::low_pass, 5000, 0, 0.8)});
    Brief brief = brief_at(rate);
    auto taps = ringing.impulse_response(700);
    taps.insert(taps.begin(), 7, 0.0);
    brief.above = Filter(Taps(std::move(taps)));
    return brief;
}

FittedSpec model_spec(ImpulseMethod method) {
    FittedSpec spec;
    spec.match = FittedMatch::impulse;
    spec.method = method;
    spec.order = 4;
    spec.length = 700;
    return spec;
}

TEST(FitRecursive, AModelStandsForTheTapsAboveByEveryMethod) {
    const Brief brief = brief_with_fir_above();
    for (const auto& method : names_of_impulse_methods()) {
        const FittedSpec spec = model_spec(method.value);
        EXPECT_FALSE(replaces_above(spec)) << "nothing was found yet";
        const auto found = fit(spec, brief, Watch());
        ASSERT_TRUE(found) << to_text(found.error());
        EXPECT_TRUE(replaces_above(*found));
        EXPECT_EQ(found->delay_samples, 7) << "the taps' own delay is kept";
        const Filter model = design(*found, brief, Watch())->filter;
        EXPECT_TRUE(model.is_stable());
        const FitFigures figures = *figures_of_fit(*found, brief);
        EXPECT_LT(figures.together.after.worst_db, 0.1) << method.key;
        ASSERT_TRUE(figures.impulse);
        EXPECT_LT(figures.impulse->energy, 1e-6) << method.key;
        for (const double hz : {100.0, 900.0, 3000.0}) {
            const auto is = model.response_at(hz, rate), should = brief.above.response_at(hz, rate);
            EXPECT_NEAR(is.magnitude_db, should.magnitude_db, 0.1) << hz;
            EXPECT_NEAR(is.phase_rad, should.phase_rad, 0.02) << hz;
        }
        EXPECT_FALSE(out_of_date(*found, brief));
    }
}

TEST(FitRecursive, ABalancedModelStaysWithinItsBound) {
    const Brief brief = brief_with_fir_above();
    FittedSpec spec = model_spec(ImpulseMethod::balanced_truncation);
    spec.order = 2;
    const FittedSpec found = *fit(spec, brief, Watch());
    ASSERT_GT(found.bound, 0);
    const Filter model = design(found, brief, Watch())->filter;
    const auto off = model.impulse_response(4096), should = brief.above.impulse_response(4096);
    std::vector<double> difference;
    std::ranges::transform(off, should, std::back_inserter(difference), std::minus());
    const Filter error{Taps(std::move(difference))};
    double most = -infinity;
    for (int hz = 10; hz < 24'000; hz += 10) {
        most = std::max(most, error.response_at(hz, rate).magnitude_db);
    }
    EXPECT_LT(most, 20 * std::log10(found.bound));
    EXPECT_GT(most, 20 * std::log10(found.bound) - 40) << "a bound that says something";
}

TEST(FitRecursive, AMeasuredImpulseIsModelledFromItsSoundOn) {
    Brief brief = brief_at(rate);
    SampledImpulse measured{48'000, std::vector<double>(300, 1e-4)};
    const auto sound = section(ParametricShape::band_pass, 1500, 0, 2).impulse_response(600);
    measured.values.insert(measured.values.end(), sound.begin(), sound.end());
    brief.impulse = std::make_shared<const SampledImpulse>(measured);
    FittedSpec spec = model_spec(ImpulseMethod::steiglitz_mcbride);
    spec.order = 2;
    spec.curve = "room";
    const FittedSpec found = *fit(spec, brief, Watch());
    EXPECT_FALSE(replaces_above(found));
    EXPECT_EQ(found.delay_samples, 0);
    EXPECT_NEAR(design(found, brief, Watch())->filter.response_at(1500, rate).magnitude_db, 0,
                0.01);
    measured.sample_rate_hz = 44'100;
    brief.impulse = std::make_shared<const SampledImpulse>(measured);
    EXPECT_EQ(fit(spec, brief, Watch()).error().place, "curve");
    EXPECT_FALSE(out_of_date(found, brief)) << "cannot be told";
}

TEST(FitRecursive, RefusesAModelOfNothing) {
    Brief brief = brief_with_fir_above();
    FittedSpec spec = model_spec(ImpulseMethod::prony);
    spec.length = 8; // for 9 numbers
    EXPECT_EQ(fit(spec, brief, Watch()).error().place, "length");
    spec.length = 100;
    brief.impulse =
        std::make_shared<const SampledImpulse>(SampledImpulse{rate, std::vector<double>(100, 0.0)});
    EXPECT_EQ(fit(spec, brief, Watch()).error().place, "curve");
    brief = brief_at(rate);
    brief.above = Filter(Cascade{{{1, 0, 0, -2.5, 1.5}}});
    EXPECT_FALSE(fit(spec, brief, Watch()));
}

TEST(FitRecursive, ErrorsOfModelsFallWithTheOrder) {
    const auto errors = *errors_by_order(model_spec(ImpulseMethod::steiglitz_mcbride),
                                         brief_with_fir_above(), {1, 2, 4}, Watch());
    ASSERT_EQ(errors.size(), 3U);
    EXPECT_GT(errors[0].rms, 2 * errors[1].rms);
    EXPECT_GT(errors[1].rms, 3 * errors[2].rms);
}

} // namespace
} // namespace syntonon
