// Times of responses that are known in closed form.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/time_answer.h"

#include "core/base/units.h"
#include "core/design/parametric.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

// Poles at r e^(±jw), all-pole, 1 at 0 Hz.
Filter resonator(double r, double w) {
    const double a1 = -2 * r * std::cos(w), a2 = r * r;
    return Filter(Cascade{{Biquad{1 + a1 + a2, 0, 0, a1, a2}}});
}

TEST(TimeAnswer, ThePolesRadiusSaysHowLongItDecays) {
    EXPECT_NEAR(decay_samples(0.5, 20 * std::log10(2.0)), 1, 1e-12);
    EXPECT_NEAR(decay_samples(0.999, 60), std::log(1e-3) / std::log(0.999), 1e-6);
    EXPECT_EQ(decay_samples(0, 60), 0);
    EXPECT_TRUE(std::isinf(decay_samples(1, 60)));
    EXPECT_NEAR(resonator(0.97, 0.4).slowest_pole_radius().value(), 0.97, 1e-12);
    EXPECT_EQ(Filter().slowest_pole_radius(), 0);
}

TEST(TimeAnswer, TheImpulseResponseHasDiedAwayAtItsEnd) {
    const auto impulse = settled_impulse_response(resonator(0.995, 0.05), 48000)->impulse;
    double greatest = 0;
    for (const double h : impulse) {
        greatest = std::max(greatest, std::abs(h));
    }
    EXPECT_LT(std::abs(impulse.back()), 1e-6 * greatest);
    double sum = 0;
    for (const double h : impulse) {
        sum += h;
    }
    EXPECT_NEAR(sum, 1, 1e-6) << "its response at 0 Hz";
}

TEST(TimeAnswer, WhatNeverSettlesIsRefused) {
    EXPECT_FALSE(settled_impulse_response(Filter(Cascade{{Biquad{1, 0, 0, -1, 0}}}), 48000));
    EXPECT_FALSE(settled_impulse_response(Filter(Cascade{{Biquad{1, 0, 0, -1.2, 0}}}), 48000));
    const auto slow =
        settled_impulse_response(Filter(Cascade{{Biquad{1, 0, 0, -0.99999999, 0}}}), 48000);
    ASSERT_FALSE(slow);
    EXPECT_NE(slow.error().reason.find("524288"), std::string::npos);
    EXPECT_FALSE(slow.error().way_out.empty());
}

TEST(TimeAnswer, OvershootOfAResonator) {
    // The step response of poles r e^(±jw) is 1 - r^n (cos wn + c sin wn) with c from the first
    // samples; near its first maximum (wn = pi) it overshoots by about r^(pi/w).
    const double r = 0.99, w = 0.05;
    const auto impulse = settled_impulse_response(resonator(r, w), 48000)->impulse;
    EXPECT_NEAR(*overshoot(impulse), std::pow(r, pi / w), 0.01);
    EXPECT_FALSE(overshoot({1, -1})) << "it ends at 0";
    EXPECT_NEAR(*overshoot({-1, -1, 1}), 1, 1e-12) << "a falling step overshoots downwards";
}

TEST(TimeAnswer, SettlingCountsFromTheLastTimeOutside) {
    // The steps are 2, 1.2, 0.9, 1.05, 1.
    const std::vector<double> impulse = {2, -0.8, -0.3, 0.15, -0.05};
    EXPECT_EQ(settling_samples(impulse, 0.5), 1);
    EXPECT_EQ(settling_samples(impulse, 0.15), 2);
    EXPECT_EQ(settling_samples(impulse, 0.07), 3);
    EXPECT_EQ(settling_samples(impulse, 0.01), 4);
    EXPECT_EQ(settling_samples({0.5, -0.5}, 0.1), 1) << "to 0, against a step of 1";
}

TEST(TimeAnswer, PreRingingIsWhatComesBeforeTheMainPeak) {
    const std::vector<double> impulse = {0.01, -0.1, 1, -0.5};
    EXPECT_NEAR(pre_ringing_db(impulse), 10 * std::log10(0.0101 / 1.2601), 1e-12);
    EXPECT_EQ(pre_ringing_samples(impulse, -19.9), 0);
    EXPECT_EQ(pre_ringing_samples(impulse, -20.1), 1);
    EXPECT_EQ(pre_ringing_samples(impulse, -40.1), 2);
    EXPECT_TRUE(std::isinf(pre_ringing_db({1, 0.5})));
}

// Long cascades run in parts; the parts must not show.
TEST(TimeAnswer, ManySectionsAnswerAsOneAfterTheOther) {
    Cascade all;
    std::vector<double> expected(5000, 0.0);
    expected[0] = 1;
    for (int i = 0; i < 7; ++i) {
        const Filter one =
            parametric_filter(parametric(ParametricShape::peak, 100 * std::exp2(i), 3 - i, 2),
                              48000)
                .value();
        all.sections.push_back(one.sections()->sections[0]);
        const Biquad c = all.sections.back();
        double x1 = 0, x2 = 0, y1 = 0, y2 = 0; // direct form I, written out
        for (double& sample : expected) {
            const double y = c.b0 * sample + c.b1 * x1 + c.b2 * x2 - c.a1 * y1 - c.a2 * y2;
            x2 = x1, x1 = sample, y2 = y1, y1 = y;
            sample = y;
        }
    }
    const auto found = Filter(all).impulse_response(expected.size());
    for (std::size_t n = 0; n < expected.size(); ++n) {
        ASSERT_NEAR(found[n], expected[n], 1e-12) << n;
    }
}

} // namespace
} // namespace syntonon
