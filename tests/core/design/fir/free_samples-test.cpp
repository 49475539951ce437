// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/free_samples.h"

#include "core/base/units.h"
#include "core/design/fir/method.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <vector>

namespace syntonon {
namespace {

double step_of(std::size_t length) {
    return 2 * pi / static_cast<double>(length);
}

// A low-pass on the grid: so many of gain 1, so many left to the program, the others 0.
std::vector<PlacedSample> low_pass(std::size_t length, std::size_t ones, std::size_t left) {
    std::vector<PlacedSample> samples;
    for (std::size_t k = 0; k < (length + 1) / 2; ++k) {
        samples.push_back({step_of(length) * static_cast<double>(k), k < ones ? std::optional(1.0)
                                                                     : k < ones + left
                                                                         ? std::nullopt
                                                                         : std::optional(0.0)});
    }
    return samples;
}

SampledTaps linear(const std::vector<PlacedSample>& samples, std::size_t length) {
    return taps_through(samples, length, middle_of(length), stop_stretches(samples));
}

double amplitude(const std::vector<double>& taps, double w) {
    return amplitude_at({taps.size(), false}, taps, w);
}

double worst_from(const std::vector<double>& taps, double from) {
    double worst = 0;
    for (int i = 0; i <= 5000; ++i) {
        worst = std::max(worst, std::abs(amplitude(taps, from + (pi - from) * i / 5000)));
    }
    return worst;
}

// L. R. Rabiner, B. Gold and C. A. McGonegal, 1970, 15 taps, samples from 0 Hz, one of them between
// the bands: looked for on a coarser grid than ours.
TEST(FreeSamples, BestTransitionValuesAreThoseOfTheTable) {
    struct Row {
        std::size_t ones;
        double db, value;
    };
    for (const Row& row : {Row{1, -42.309, 0.43378},
                           {2, -41.263, 0.41794},
                           {3, -41.253, 0.41048},
                           {4, -41.949, 0.40406},
                           {5, -44.371, 0.39268},
                           {6, -56.014, 0.35767}}) {
        const auto found = linear(low_pass(15, row.ones, 1), 15);
        ASSERT_EQ(found.chosen.size(), 1u);
        EXPECT_NEAR(found.chosen[0], row.value, 2e-4) << row.ones;
        EXPECT_NEAR(db_from_ratio(*found.worst), row.db, 0.06) << row.ones;
    }
}

TEST(FreeSamples, OtherTransitionValuesAreWorse) {
    for (const std::size_t left : {1u, 2u, 3u, 5u}) {
        const std::size_t length = 48;
        auto samples = low_pass(length, 9, left);
        const auto found = linear(samples, length);
        const double from = step_of(length) * static_cast<double>(9 + left);
        const double worst = worst_from(found.taps, from);
        EXPECT_NEAR(db_from_ratio(*found.worst), db_from_ratio(worst), 0.05);
        for (std::size_t i = 0; i < left; ++i) {
            samples[9 + i].gain = found.chosen[i];
        }
        EXPECT_NEAR(worst_from(linear(samples, length).taps, from), worst, 1e-12)
            << "given, they make the same taps";
        for (std::size_t i = 0; i < left; ++i) {
            for (const double more : {-0.02, 0.02}) {
                auto others = samples;
                *others[9 + i].gain *= 1 + more;
                EXPECT_GT(worst_from(linear(others, length).taps, from), worst) << left << i;
            }
        }
    }
}

TEST(FreeSamples, OnTheGridTheTransformFindsWhatLeastSquaresDo) {
    for (const std::size_t length : {33u, 34u}) {
        auto samples = low_pass(length, 8, 0);
        samples[8].gain = 0.4;
        samples[3] = {samples[3].w + 0.4 * step_of(length), 1.1};
        samples[12] = {samples[12].w - 0.3 * step_of(length), 0.02};
        const auto few = linear(samples, length); // two beside the grid
        for (const PlacedSample& sample : samples) {
            EXPECT_NEAR(amplitude(few.taps, sample.w), *sample.gain, 1e-12);
        }
        EXPECT_EQ(few.rank, (length + 1) / 2);
        samples.push_back(samples[3]); // one more than the taps need: by least squares
        const auto squares = linear(samples, length);
        for (std::size_t n = 0; n < length; ++n) {
            EXPECT_NEAR(few.taps[n], squares.taps[n], 1e-12) << n;
        }
    }
}

TEST(FreeSamples, StretchesOfSilenceGoOnToTheEnds) {
    const std::vector<PlacedSample> samples{
        {0.1, 0.0},          {0.3, 0.0}, {0.5, std::nullopt}, {1, 1.0},
        {1.5, std::nullopt}, {2, 0.0},   {2.5, 0.0},          {3, 0.0}};
    const Amplitude stretches = stop_stretches(samples);
    std::vector<std::pair<double, double>> places;
    for (const AmplitudePiece& piece : stretches) {
        places.emplace_back(piece.gain.from, piece.gain.to);
        EXPECT_EQ(piece.gain.at_from, 0);
    }
    EXPECT_EQ(places, (std::vector<std::pair<double, double>>{
                          {0, 0.1}, {0.1, 0.3}, {2, 2.5}, {2.5, 3}, {3, pi}}));
    EXPECT_TRUE(stop_stretches({{0, 1.0}, {1, std::nullopt}, {2, 1.0}}).empty());
}

} // namespace
} // namespace syntonon
