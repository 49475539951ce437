// Filters in the s-plane, alone and in networks.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/units.h"
#include "core/filter/analog_time.h"
#include "core/filter/form.h"
#include "tests/core/filter/analog_step_table.h"

#include <array>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

const Axis analog(48000, Domain::analog);

// w^2 / (s^2 + w s / q + w^2)
AnalogSection low_pass(double hz, double q) {
    const double w = rad_per_s_from_hz(hz);
    return {0, 0, w * w, 1, w / q, w * w};
}
AnalogSection first_order(double hz) {
    const double w = rad_per_s_from_hz(hz);
    return {0, 0, w, 0, 1, w};
}

Complex value_at(const AnalogSection& s, double hz) {
    const Complex jw(0, rad_per_s_from_hz(hz));
    return (s.b2 * jw * jw + s.b1 * jw + s.b0) / (s.a2 * jw * jw + s.a1 * jw + s.a0);
}

TEST(Analog, RespondsAsItsPolynomialsSay) {
    const AnalogSection section{2, 300, 1e7, 1, 4000, 3e7};
    const Filter filter{AnalogCascade{{section, low_pass(500, 3)}}};
    ASSERT_TRUE(filter.is_analog());
    for (const double hz : {0.0, 10.0, 700.0, 90000.0, 3e6}) {
        const Complex wanted = value_at(section, hz) * value_at(low_pass(500, 3), hz);
        const ResponsePoint point = filter.response_at(hz, analog);
        EXPECT_NEAR(point.magnitude_db, db_from_ratio(std::abs(wanted)), 1e-9);
        EXPECT_NEAR(std::remainder(point.phase_rad - std::arg(wanted), 2 * pi), 0, 1e-12);
        const double step = std::max(hz * 1e-5, 1e-4);
        if (hz > 0) {
            const double later = filter.response_at(hz + step, analog).phase_rad,
                         before = filter.response_at(hz - step, analog).phase_rad;
            EXPECT_NEAR(point.group_delay_samples, -(later - before) / (2 * pi * 2 * step) * 48000,
                        1e-4 * std::abs(point.group_delay_samples) + 1e-7);
        }
    }
}

TEST(Analog, AZeroOnTheAxisHasNoLevelAndNoDelay) {
    const double w = rad_per_s_from_hz(1000);
    const Filter notch{AnalogCascade{{{1, 0, w * w, 1, w, w * w}}}};
    const ResponsePoint there = notch.response_at(1000, analog);
    EXPECT_EQ(there.magnitude_db, -infinity);
    EXPECT_TRUE(std::isnan(there.group_delay_samples));
    EXPECT_NEAR(notch.response_at(1e8, analog).magnitude_db, 0, 1e-6);
}

TEST(Analog, NetworksHaveTheRootsOfTheirSums) {
    // 1/(1 + s/w) - 1 = -(s/w)/(1 + s/w): a high-pass, its zero at the origin.
    const Filter low{AnalogCascade{{first_order(1000)}}};
    const Filter difference{ParallelSum{{{1, low}, {-1, Filter(Gain{1})}}}};
    const auto& roots = difference.roots();
    ASSERT_TRUE(roots) << to_text(roots.error());
    EXPECT_EQ(roots->domain, Domain::analog);
    ASSERT_EQ(roots->zeros.size(), 1);
    EXPECT_EQ(roots->zeros[0], 0.0);
    ASSERT_EQ(roots->poles.size(), 1);
    EXPECT_NEAR(roots->poles[0].real(), -rad_per_s_from_hz(1000), 1e-6);
    EXPECT_NEAR(roots->gain, -1, 1e-12);
}

TEST(Analog, ALoopMovesItsPoles) {
    // F/(1 - k F) with F = w/(s + w): pole at -w (1 - k).
    const Filter loop{Loop{Filter(AnalogCascade{{first_order(1000)}}), -3, Filter()}};
    ASSERT_TRUE(loop.roots());
    EXPECT_NEAR(loop.roots()->poles.at(0).real(), -4 * rad_per_s_from_hz(1000), 1e-5);
    EXPECT_TRUE(loop.is_stable());
    const Filter growing{Loop{Filter(AnalogCascade{{first_order(1000)}}), 1.5, Filter()}};
    EXPECT_FALSE(growing.is_stable());
}

// Three equal lags with feedback -k: stable below k = 8, at sqrt(3) times their frequency.
TEST(Analog, LoopMarginsAreTheTextbooks) {
    const Filter lags = series(
        std::array{Filter(AnalogCascade{{first_order(500), first_order(500), first_order(500)}})});
    const Filter loop{Loop{lags, -2, Filter()}};
    const auto& stability = loop.stability();
    ASSERT_TRUE(stability && stability->margin);
    EXPECT_NEAR(stability->margin->most_gain, 4, 1e-9);
    EXPECT_NEAR(hz_of_turns(stability->margin->most_gain_turns, analog), 500 * std::sqrt(3.0),
                1e-6);
    EXPECT_FALSE(Filter(Loop{lags, -8.001, Filter()}).is_stable());
    EXPECT_TRUE(Filter(Loop{lags, -7.999, Filter()}).is_stable());
    const auto range = stable_factors(Loop{lags, -2, Filter()});
    ASSERT_TRUE(range);
    EXPECT_NEAR(range->low, -8, 1e-6);
    EXPECT_NEAR(range->high, 1, 1e-6);
}

// Closed forms of first and second order, a double pole, and what passes at once.
TEST(Analog, AnswersInTimeAsClosedFormsSay) {
    const double w = rad_per_s_from_hz(100), step_s = 1e-4;
    const auto lag = analog_time_response(Filter(AnalogCascade{{first_order(100)}}), step_s, 50);
    const auto twice = analog_time_response(
        Filter(AnalogCascade{{first_order(100), first_order(100)}}), step_s, 50);
    // (s + 2w) / (s + w) = 1 + w / (s + w)
    const auto lead =
        analog_time_response(Filter(AnalogCascade{{{0, 1, 2 * w, 0, 1, w}}}), step_s, 50);
    ASSERT_TRUE(lag && twice && lead);
    EXPECT_EQ(lead->at_once, 1);
    for (std::size_t k = 0; k < 50; ++k) {
        const double wt = w * step_s * static_cast<double>(k);
        EXPECT_NEAR(lag->impulse[k], w * std::exp(-wt), 1e-10);
        EXPECT_NEAR(lag->step[k], 1 - std::exp(-wt), 1e-13);
        EXPECT_NEAR(twice->impulse[k], w * wt * std::exp(-wt), 1e-10);
        EXPECT_NEAR(twice->step[k], 1 - (1 + wt) * std::exp(-wt), 1e-13);
        EXPECT_NEAR(lead->impulse[k], w * std::exp(-wt), 1e-10);
        EXPECT_NEAR(lead->step[k], 2 - std::exp(-wt), 1e-13);
    }
}

TEST(Analog, NetworksAnswerAsTheirClosedForms) {
    const Filter lag{AnalogCascade{{first_order(100)}}};
    const Filter loop{Loop{lag, -1, Filter()}}; // w/(s + 2w)
    const Filter both{ParallelSum{{{2, lag}, {-1, lag}}}};
    const auto closed = analog_time_response(loop, 1e-3, 20);
    const auto summed = analog_time_response(both, 1e-3, 20);
    const auto alone = analog_time_response(lag, 1e-3, 20);
    ASSERT_TRUE(closed && summed && alone);
    const double w = rad_per_s_from_hz(100);
    for (std::size_t k = 0; k < 20; ++k) {
        EXPECT_NEAR(closed->step[k], (1 - std::exp(-2 * w * 1e-3 * static_cast<double>(k))) / 2,
                    1e-13);
        EXPECT_NEAR(summed->step[k], alone->step[k], 1e-13);
    }
}

// Butterworth of order 14 at 1 kHz: 30 digits by residues (analog_step.py).
TEST(Analog, TheStepResponseOfOrder14IsRightTo1e10) {
    AnalogCascade cascade;
    for (int i = 1; i <= 7; ++i) {
        cascade.sections.push_back(low_pass(1000, 1 / (2 * std::sin((2 * i - 1) * pi / 28))));
    }
    const auto found =
        analog_time_response(Filter(cascade), analog_step::step_s, analog_step::values.size());
    ASSERT_TRUE(found);
    double worst = 0;
    for (std::size_t k = 0; k < analog_step::values.size(); ++k) {
        worst = std::max(worst, std::abs(found->step[k] - analog_step::values[k]));
    }
    EXPECT_LT(worst, 1e-10);
    RecordProperty("worst", std::to_string(worst * 1e15) + "e-15");
}

TEST(Analog, ItsBilinearImageIsTheSameElsewhere) {
    const Filter filter{
        Loop{Filter(AnalogCascade{{low_pass(700, 2), first_order(90)}}), -0.7, Filter(Gain{0.5})}};
    const double c = rad_per_s_from_hz(1000);
    const Filter image = bilinear_image(filter, c);
    EXPECT_FALSE(image.is_analog());
    for (const double hz : {3.0, 300.0, 900.0, 5000.0}) {
        const double sampled_hz = std::atan(rad_per_s_from_hz(hz) / c) / pi * 48000;
        EXPECT_NEAR(filter.response_at(hz, analog).magnitude_db,
                    image.response_at(sampled_hz, 48000).magnitude_db, 1e-9);
    }
}

TEST(Analog, ItsPhaseIsFollowedInNetworks) {
    const Filter chain{AnalogCascade{{low_pass(1000, 5), low_pass(3000, 5), low_pass(9000, 5)}}};
    const Filter sum{ParallelSum{{{1, chain}}}};
    EXPECT_NEAR(sum.response_at(30000, analog).phase_rad,
                chain.response_at(30000, analog).phase_rad, 1e-9);
    EXPECT_LT(sum.response_at(30000, analog).phase_rad, -2 * pi);
}

// Poles so close that they are not told apart: the phase is followed without them.
TEST(Analog, ANetworkOfManyEqualPolesIsFollowedInFewSteps) {
    const std::vector<AnalogSection> sections(12, low_pass(1000, 0.5));
    const Filter chain{AnalogCascade{sections}};
    const Filter sum{ParallelSum{{{1, chain}, {1, chain}}}};
    EXPECT_LT(sum.followed_hz(analog).size(), 20'000U);
    EXPECT_NEAR(sum.response_at(30000, analog).phase_rad, -24 * std::atan(30.0), 1e-6);
}

TEST(Analog, RefusesMoreStatesThanAMatrixShouldHave) {
    const std::vector<AnalogSection> most(most_states, first_order(100));
    EXPECT_TRUE(analog_time_response(Filter(AnalogCascade{most}), 1e-3, 2));
    const std::vector<AnalogSection> beyond(most_states + 1, first_order(100));
    const auto refused = analog_time_response(Filter(AnalogCascade{beyond}), 1e-3, 2);
    ASSERT_FALSE(refused);
    EXPECT_NE(refused.error().reason.find("401"), std::string::npos) << refused.error().reason;
    EXPECT_NE(refused.error().way_out, "");
}

TEST(Analog, SampledPartsHaveNoAnswerInContinuousTime) {
    EXPECT_FALSE(analog_time_response(Filter(Cascade{{{1, 0, 0, 0.5, 0}}}), 1e-3, 3));
    EXPECT_TRUE(analog_time_response(Filter(), 1e-3, 3));
    EXPECT_FALSE(Filter(Cascade{{{1, 0, 0, 0.5, 0}}}).analog_sections());
    EXPECT_FALSE(Filter(AnalogCascade{{first_order(10)}}).sections());
}

} // namespace
} // namespace syntonon
