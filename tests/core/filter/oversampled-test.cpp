// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/oversampled.h"

#include "core/filter/form.h"
#include "core/filter/modelled/half_band.h"
#include "core/filter/stepper.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

namespace syntonon {
namespace {

constexpr double outer_rate_hz = 48000;

Filter resonant_low_pass() { // of order 3, at the higher rate
    return Cascade{{Biquad{0.002, 0.004, 0.002, -1.93, 0.938}, Biquad{0.05, 0.05, 0, -0.9, 0}}};
}

Oversampled twice(const Filter& inner, double transition = 8.0 / 96) {
    return {inner, modelled::half_band(8, transition)};
}

Filter four_times() {
    return twice(twice(resonant_low_pass(), 56.0 / 192));
}

std::complex<double> transform_of(const std::vector<double>& impulse, double hz) {
    std::complex<double> sum = 0;
    const double w = 2 * std::numbers::pi * hz / outer_rate_hz;
    for (std::size_t n = 0; n < impulse.size(); ++n) {
        sum += impulse[n] * std::polar(1.0, -w * static_cast<double>(n));
    }
    return sum;
}

TEST(OversampledFilter, AnswersAsItRuns) {
    for (const Filter& filter : {Filter(twice(resonant_low_pass())), four_times()}) {
        const auto impulse = filter.impulse_response(4000);
        const Probe probe(filter, outer_rate_hz);
        for (const double hz : {0.0, 10.0, 300.0, 4000.0, 15000.0, 22000.0, 24000.0}) {
            EXPECT_LT(std::abs(probe.value(hz).h - transform_of(impulse, hz)), 1e-12) << hz;
        }
    }
}

// As plain as can be: noughts between the samples, the half-band filter's own impulse response,
// the inner filter, the half-band filter, and every other sample, beginning with the second.
TEST(OversampledFilter, IsUpThroughAndDown) {
    const Oversampled of = twice(resonant_low_pass());
    std::vector<double> high(1000);
    high[0] = 2;
    const auto half_band = [&](std::vector<double>& signal) {
        std::vector<double> spread(signal.size());
        for (std::size_t chain = 0; chain < 2; ++chain) {
            std::vector<double> one = signal;
            for (std::size_t i = chain; i < of.half_band.count; i += 2) {
                const double a = of.half_band.a.at(i);
                std::vector<double> out(one.size());
                for (std::size_t n = 0; n < one.size(); ++n) {
                    out[n] = a * one[n] + (n > 1 ? one[n - 2] - a * out[n - 2] : 0);
                }
                one = out;
            }
            for (std::size_t n = chain; n < one.size(); ++n) {
                spread[n] += 0.5 * one[n - chain];
            }
        }
        signal = spread;
    };
    half_band(high);
    of.inner.run(high);
    half_band(high);
    const auto impulse = Filter(of).impulse_response(400);
    for (std::size_t n = 0; n < impulse.size(); ++n) {
        EXPECT_NEAR(impulse[n], high[2 * n + 1], 1e-14) << n;
    }
}

TEST(OversampledFilter, SlopesAreDerivatives) {
    const Filter filter = four_times();
    const Probe probe(filter, outer_rate_hz);
    for (const double hz : {100.0, 1500.0, 9000.0, 21000.0}) {
        const double step_hz = 0.01, step = 2 * std::numbers::pi * step_hz / outer_rate_hz;
        const auto wanted =
            (probe.value(hz + step_hz).h - probe.value(hz - step_hz).h) / (2 * step);
        const auto value = probe.value(hz);
        EXPECT_LT(std::abs(value.slope - wanted), 1e-5 * std::abs(wanted) + 1e-9) << hz;
    }
}

TEST(OversampledFilter, HasTheSquaredPolesAndZerosThatMakeItsAnswer) {
    for (const Filter& filter : {Filter(twice(resonant_low_pass())), four_times()}) {
        const auto& roots = filter.roots();
        ASSERT_TRUE(roots);
        const Probe probe(filter, outer_rate_hz);
        for (const double hz : {20.0, 700.0, 5000.0, 18000.0}) {
            const auto z = std::polar(1.0, 2 * std::numbers::pi * hz / outer_rate_hz);
            const auto value = value_of(*roots, z).h * std::pow(z, -roots->delay_samples);
            EXPECT_LT(std::abs(std::abs(value) / std::abs(probe.value(hz).h) - 1), 1e-7) << hz;
        }
    }
    const std::complex<double> inner =
        resonant_low_pass().roots()->poles.front(); // of the resonance
    const Filter both(twice(resonant_low_pass()));
    EXPECT_TRUE(std::ranges::any_of(both.roots()->poles, [&](const auto& pole) {
        return std::abs(pole - inner * inner) < 1e-14;
    }));
    EXPECT_TRUE(both.is_stable());
    EXPECT_NEAR(*both.slowest_pole_radius(), std::norm(inner), 1e-14);
}

TEST(OversampledFilter, AnUnstableInnerOneIsSeen) {
    const Filter filter(twice(Cascade{{Biquad{1, 0, 0, -1.9, 1.01}}}));
    EXPECT_FALSE(filter.is_stable());
    EXPECT_EQ(filter.stability()->poles_outside, 2);
}

TEST(OversampledFilter, TakesItsPlaceInALoop) {
    const Filter filter = four_times();
    auto stepper = stepper_of(filter);
    stepper->rest();
    double input = 0.7;
    for (int n = 0; n < 50; ++n) {
        const double expected = stepper->at_once() * input + stepper->held();
        EXPECT_NEAR(stepper->take(input), expected, 1e-14);
        input = -0.9 * input + 0.1;
    }
    // Fed back, by the loop's own equation.
    const auto loop = closed_loop({filter, -0.5, Filter()});
    ASSERT_TRUE(loop);
    const auto impulse = loop->impulse_response(4000);
    for (const double hz : {50.0, 1000.0, 8000.0}) {
        const auto h = Probe(filter, outer_rate_hz).value(hz).h;
        EXPECT_LT(std::abs(transform_of(impulse, hz) - h / (1.0 + 0.5 * h)), 1e-10);
    }
}

TEST(OversampledFilter, SaysWhyItHasNoSections) {
    const auto sections = Filter(twice(resonant_low_pass())).sections();
    ASSERT_FALSE(sections);
    EXPECT_NE(sections.error().reason.find("multiple of the rate"), std::string::npos);
}

} // namespace
} // namespace syntonon
