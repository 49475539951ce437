// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/deconvolution.h"

#include "core/base/units.h"
#include "core/filter/form.h"
#include "core/math/fft.h"
#include "tests/support/noise.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <functional>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

const Filter& loudspeaker() { // a high-pass at 60 Hz and a bell
    static const Filter filter(Cascade{
        {{0.994461, -1.988922, 0.994461, -1.988892, 0.988953}, {1.05, -1.8, 0.85, -1.8, 0.9}}});
    return filter;
}

SweepPlan plan_of(double length_s) {
    SweepPlan plan;
    plan.length_s = length_s;
    plan.lead_out_s = 1;
    return plan;
}

std::vector<double> later(const std::vector<double>& samples, std::size_t by) {
    std::vector<double> moved(samples.size());
    for (std::size_t n = by; n < samples.size(); ++n) {
        moved[n] = samples[n - by];
    }
    return moved;
}

std::vector<double> through(const Filter& filter, const std::vector<double>& samples) {
    constexpr std::size_t rings = 48'000;
    return convolved(samples, filter.impulse_response(rings), samples.size());
}

// Its response at a frequency, from time 0.
std::complex<double> response_of(const ImpulseResponse& impulse, double hz) {
    std::complex<double> sum;
    for (std::size_t n = 0; n < impulse.samples.size(); ++n) {
        sum += impulse.samples[n] * std::polar(1.0, -2 * pi * hz * impulse.seconds_of(n));
    }
    return sum;
}

std::complex<double> true_response(double hz, std::size_t delay) {
    const auto point = loudspeaker().response_at(hz, {48'000, Domain::sampled});
    return ratio_from_db(point.magnitude_db)
           * std::polar(1.0, point.phase_rad - 2 * pi * hz * static_cast<double>(delay) / 48'000);
}

TEST(Deconvolution, FindsWhatTheSweepWentThrough) {
    constexpr std::size_t delay = 250;
    const SweepPlan plan = plan_of(4);
    const auto made = deconvolved(later(through(loudspeaker(), played_samples(plan)), delay), plan);
    ASSERT_TRUE(made) << to_text(made.error());
    for (double hz = 20; hz <= 20'000; hz *= 1.31) {
        const auto quotient = response_of(made->response, hz) / true_response(hz, delay);
        EXPECT_NEAR(db_from_ratio(std::abs(quotient)), 0, 0.03) << hz;
        EXPECT_NEAR(deg_from_rad(std::arg(quotient)), 0, 0.2) << hz;
    }
}

// sin^2 = (1 - cos 2) / 2 and sin^3 = (3 sin - sin 3) / 4.
TEST(Deconvolution, HarmonicsStandApart) {
    const SweepPlan plan = plan_of(6);
    auto recording = played_samples(plan);
    for (double& sample : recording) {
        sample += 0.02 * sample * sample + 0.01 * sample * sample * sample;
    }
    const auto made = deconvolved(recording, plan);
    ASSERT_TRUE(made);
    ASSERT_EQ(made->harmonics.size(), 4U);
    const double peak = ratio_from_db(plan.peak_db);
    for (const double hz : {200.0, 1000.0, 5000.0}) {
        EXPECT_NEAR(db_from_ratio(std::abs(response_of(made->response, hz))),
                    db_from_ratio(1 + 0.01 * 0.75 * peak * peak), 0.01);
        EXPECT_NEAR(db_from_ratio(std::abs(response_of(made->harmonics[0], hz))),
                    db_from_ratio(0.02 / 2 * peak), 0.2)
            << hz;
        EXPECT_NEAR(db_from_ratio(std::abs(response_of(made->harmonics[1], hz))),
                    db_from_ratio(0.01 / 4 * peak * peak), 0.5)
            << hz;
        EXPECT_LT(db_from_ratio(std::abs(response_of(made->harmonics[2], hz))), -70);
    }
}

TEST(Deconvolution, ALoopbackTakesTheDevicesOwnDelayOut) {
    const SweepPlan plan = plan_of(2);
    const auto sent = played_samples(plan);
    const auto loopback = later(sent, 777);
    const auto recording = later(through(loudspeaker(), sent), 777 + 100);
    const auto made = deconvolved_against(recording, loopback, plan);
    ASSERT_TRUE(made);
    for (const double hz : {50.0, 1000.0, 15'000.0}) {
        const auto quotient = response_of(made->response, hz) / true_response(hz, 100);
        EXPECT_NEAR(std::abs(quotient), 1, 0.002) << hz;
        EXPECT_NEAR(deg_from_rad(std::arg(quotient)), 0, 0.2) << hz;
    }
}

TEST(Deconvolution, ARecordingThatBeganLaterIsOnlyElsewhereInTime) {
    const SweepPlan plan = plan_of(2);
    auto recording = through(loudspeaker(), played_samples(plan));
    recording.erase(recording.begin(), recording.begin() + 9'600); // 0.2 s of the lead-in
    const auto made = deconvolved(recording, plan);
    ASSERT_TRUE(made);
    EXPECT_NEAR(std::abs(response_of(made->response, 1000)), std::abs(true_response(1000, 0)),
                1e-3);
    const auto highest =
        std::ranges::max_element(made->response.samples, {}, [](double x) { return std::abs(x); });
    const auto at = static_cast<std::size_t>(highest - made->response.samples.begin());
    EXPECT_NEAR(made->response.seconds_of(at), -0.2, 0.001);
}

// Where the sweep fades out the quotient would raise it.
TEST(Deconvolution, NoiseIsNoLouderAtTheSweepsEnd) {
    const SweepPlan plan = plan_of(3);
    auto recording = played_samples(plan);
    const auto clean = deconvolved(recording, plan);
    const auto noisy = noise(recording.size(), 3);
    for (std::size_t n = 0; n < recording.size(); ++n) {
        recording[n] += 0.003 * noisy[n];
    }
    const auto made = deconvolved(recording, plan);
    ASSERT_TRUE(clean && made);
    RealFft fft(quick_fft_length(made->response.samples.size()));
    std::ranges::fill(fft.signal(), 0.0);
    std::ranges::transform(made->response.samples, clean->response.samples, fft.signal().begin(),
                           std::minus());
    fft.to_spectrum();
    const auto level_db = [&](double from_hz, double to_hz) {
        const double step_hz = plan.sample_rate_hz / static_cast<double>(fft.length());
        double power = 0;
        int bins = 0;
        for (auto k = static_cast<std::size_t>(from_hz / step_hz);
             static_cast<double>(k) * step_hz < to_hz; ++k) {
            power += std::norm(fft.spectrum()[k]);
            ++bins;
        }
        return db_from_power(power / bins);
    };
    EXPECT_NEAR(level_db(21'500, 21'950), level_db(20'500, 21'000), 1.5);
    EXPECT_LT(level_db(22'500, 23'500), level_db(20'500, 21'000) - 30);
}

TEST(Deconvolution, BadRecordingsAreSaid) {
    const SweepPlan plan = plan_of(1);
    const auto reason = [&](std::vector<double> recording) {
        const auto made = deconvolved(recording, plan);
        return made ? std::string() : to_text(made.error());
    };
    const std::size_t length = played_samples(plan).size();
    EXPECT_NE(reason(std::vector<double>(100, 0.1)).find("has 100 samples, and the sweep alone"),
              std::string::npos);
    EXPECT_NE(reason(std::vector<double>(length, 0.0)).find("is silent"), std::string::npos);
    auto odd = noise(length, 1);
    odd[4711] = std::nan("");
    EXPECT_NE(reason(odd).find("sample 4711: is not a finite number"), std::string::npos);
}

} // namespace
} // namespace syntonon
