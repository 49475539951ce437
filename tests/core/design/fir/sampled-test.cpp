// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/units.h"
#include "core/design/fir/equal_steps.h"
#include "tests/support/fir_designs.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

TEST(SampledFir, MeetsItsSamples) {
    FirSpec spec = with(SampledFir(), 33);
    spec.wish.bands = {{0, 6000, 1, {}, 1, {}}, {9000, 24000, 0, {}, 1, {}}};
    for (int k = 0; k <= 16; ++k) {
        const double hz = k * rate / 33, w = rad_per_sample_from_hz(hz, rate);
        const double wanted = hz <= 6000 ? 1 : hz >= 9000 ? 0 : (9000 - hz) / 3000;
        EXPECT_NEAR(
            std::abs(filter_of(spec).values(*FrequencyGrid::linear(hz, hz + 1, 2, rate))[0].h),
            wanted, 1e-12)
            << w;
    }
    SampledFir late;
    late.delay_samples = 12.4;
    spec.method = late;
    EXPECT_NEAR(filter_of(spec).response_at(3 * rate / 33, rate).magnitude_db, 0, 1e-9);
}

TEST(SampledFir, FreeSamplesAreMetOrNearlySo) {
    SampledFir method;
    method.samples = {{0, 1, {}}, {3100, 1.2, {}}, {7700, 0.3, {}}, {20000, 0, {}}};
    const Filter exact = filter_of(with(method, 31));
    for (const FirSample& sample : method.samples) {
        EXPECT_NEAR(std::abs(exact
                                 .values(*FrequencyGrid::linear(
                                     sample.frequency_hz, sample.frequency_hz + 1, 2, rate))[0]
                                 .h),
                    *sample.gain, 1e-10);
    }
    // Three unknowns against four samples: the rest stands at right angles on what can be had.
    const auto taps = taps_of(with(method, 5));
    double slope = 0;
    for (const FirSample& sample : method.samples) {
        const double w = rad_per_sample_from_hz(sample.frequency_hz, rate);
        const double a = taps[2] + 2 * taps[1] * std::cos(w) + 2 * taps[0] * std::cos(2 * w);
        slope += (a - *sample.gain) * std::cos(w);
    }
    EXPECT_NEAR(slope, 0, 1e-12);
}

TEST(SampledFir, BestValuesBetweenBandsLowerTheStopBand) {
    SampledFir method;
    FirSpec spec = with(method, 61);
    spec.wish.bands = {{0, 6000, 1, {}, 1, {}}, {11 * rate / 61, 24000, 0, {}, 1, {}}};
    const auto highest = [&] {
        double highest_db = -400;
        const Filter filter = filter_of(spec);
        for (double hz = 11 * rate / 61; hz <= 24000; hz += 25) {
            highest_db = std::max(highest_db, filter.response_at(hz, rate).magnitude_db);
        }
        return highest_db;
    };
    const double straight = highest();
    method.between = SampledFir::Between::best;
    spec.method = method;
    EXPECT_LT(highest(), straight - 15);
    for (int k = 0; k <= 7; ++k) { // samples of the bands stay as they are
        EXPECT_NEAR(level_db(spec, k * rate / 61), 0, 1e-9);
    }

    // Taken out as samples of their own they make the same taps.
    const FirTask task{61, spec.wish, brief_at(rate), Watch()};
    method.samples = *samples_at_equal_steps(method, task);
    ASSERT_EQ(method.samples.size(), 31u);
    EXPECT_EQ(std::ranges::count_if(method.samples, [](const auto& s) { return !s.gain; }), 3);
    const auto taps = taps_of(spec);
    spec.method = method;
    const auto own = taps_of(spec);
    for (std::size_t n = 0; n < taps.size(); ++n) {
        EXPECT_NEAR(taps[n], own[n], 1e-9);
    }
}

TEST(SampledFir, GoBackToEqualSteps) {
    std::vector<FirSample> samples{{0, 1, {}}, {10000, 1, {}}, {17000, {}, {}}, {20000, 0, {}}};
    const auto same = on_equal_steps(samples, 7, 42000);
    for (std::size_t k = 0; k < same.size(); ++k) {
        EXPECT_EQ(same[k].frequency_hz, 6000.0 * static_cast<double>(k));
        EXPECT_EQ(same[k].gain, samples[k].gain);
    }
    samples[2].gain = 0.5;
    const auto more = on_equal_steps(samples, 14, 42000);
    ASSERT_EQ(more.size(), 7u);
    EXPECT_EQ(more[6].frequency_hz, 18000);
    EXPECT_NEAR(*more[6].gain, 0.5 * 2 / 3, 1e-12);
    EXPECT_EQ(more[2].gain, 1);
}

TEST(SampledFir, WhatCannotBeLeftToTheProgramIsRefused) {
    SampledFir method;
    method.samples = {{0, 1, {}}, {4000, {}, {}}, {9000, 0, {}}};
    EXPECT_TRUE(design(with(method, 5), brief_at(rate), Watch()));
    method.delay_samples = 1.7;
    EXPECT_EQ(refused(with(method, 5)).place, "samples[1]") << "only with linear phase";
    method.delay_samples.reset();
    method.samples[2].gain = 0.1;
    EXPECT_EQ(refused(with(method, 5)).place, "samples[1]") << "no stop band";
    method.samples.clear();
    for (int k = 0; k < 80; ++k) {
        method.samples.push_back({100.0 * k, {}, {}});
    }
    method.samples.push_back({9000, 0, {}});
    EXPECT_EQ(refused(with(method, 301)).place, "samples[0]") << "too many";

    SampledFir between;
    between.between = SampledFir::Between::best;
    EXPECT_EQ(refused(with(between, 4096)).place, "length");
    EXPECT_EQ(refused(with(between, 1801)).place, "between") << "75 samples between 4 and 6 kHz";
    between.delay_samples = 20.5;
    EXPECT_EQ(refused(with(between, 61)).place, "between");
}

} // namespace
} // namespace syntonon
