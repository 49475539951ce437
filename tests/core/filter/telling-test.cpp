// Telling frequencies by what they promise: between neighbours at most one extremum.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/telling.h"

#include "core/design/parametric.h"
#include "core/filter/delay.h"
#include "core/filter/filter.h"
#include "core/filter/gain.h"
#include "core/filter/parallel.h"
#include "core/filter/probe.h"
#include "core/filter/taps.h"
#include "tests/support/noise.h"
#include "tests/support/rate.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <gtest/gtest.h>
#include <random>

namespace syntonon {
namespace {

constexpr double lowest_hz = 20, highest_hz = 20000, grid_ratio = 1.0145; // 48 an octave

std::vector<double> with_grid(std::vector<double> hz) {
    for (double f = lowest_hz; f < highest_hz; f *= grid_ratio) {
        hz.push_back(f);
    }
    hz.push_back(highest_hz);
    std::erase_if(hz, [](double f) { return f < lowest_hz || f > highest_hz; });
    std::ranges::sort(hz);
    hz.erase(std::unique(hz.begin(), hz.end()), hz.end());
    return hz;
}

// The most extrema between any two neighbours, each interval looked at in 24 points.
int most_extrema(const std::vector<double>& hz, const std::function<double(double)>& value) {
    constexpr int points = 24;
    int most = 0;
    for (std::size_t i = 1; i < hz.size(); ++i) {
        int extrema = 0;
        double before = value(hz[i - 1]), rise = 0;
        for (int k = 1; k <= points; ++k) {
            const double now = value(hz[i - 1] + (hz[i] - hz[i - 1]) * k / points);
            // Rounding is no extremum.
            const double step = now - before;
            if (std::abs(step) > 1e-9) {
                extrema += rise * step < 0 ? 1 : 0;
                rise = step;
            }
            before = now;
        }
        most = std::max(most, extrema);
    }
    return most;
}

void expect_at_most_one(const Filter& filter) {
    const auto hz = with_grid(filter.telling_hz({lowest_hz, highest_hz, grid_ratio, rate}));
    const Probe probe(filter, rate);
    EXPECT_LE(most_extrema(hz, [&](double f) { return probe.level_db(f); }), 1) << "level";
    EXPECT_LE(most_extrema(hz, [&](double f) { return probe.group_delay_samples(f); }), 1)
        << "group delay";
}

class RandomTaps : public testing::TestWithParam<std::size_t> {};

TEST_P(RandomTaps, HideNoExtremum) {
    const std::size_t length = GetParam();
    auto taps = noise(length, static_cast<unsigned>(length));
    const Filter fir{Taps(taps)};
    const auto hz = with_grid(fir.telling_hz({lowest_hz, highest_hz, grid_ratio, rate}));
    const Probe probe(fir, rate);
    // The level's square is a polynomial in cos w; its logarithm has its extrema.
    EXPECT_LE(most_extrema(hz, [&](double f) { return probe.level_db(f); }), 1);
}

INSTANTIATE_TEST_SUITE_P(Lengths, RandomTaps, testing::Values(2, 3, 16, 63, 255, 1024));

TEST(Telling, NarrowSectionsAreSurrounded) {
    for (const double q : {0.3, 2.0, 30.0, 500.0}) {
        for (const auto shape : {ParametricShape::peak, ParametricShape::notch,
                                 ParametricShape::all_pass, ParametricShape::low_shelf}) {
            expect_at_most_one(parametric_filter(parametric(shape, 1234.5, 9, q), rate).value());
        }
    }
}

TEST(Telling, BranchesThatBeatAgainstOneAnother) {
    // A direct path and a late, weaker one: a comb with teeth every 48 Hz.
    const Filter branch[] = {Filter(Delay{1000}), Filter(Gain{0.7})};
    const ParallelSum sum{{{1, Filter()}, {1, series(branch)}}};
    const Filter comb(sum);
    const auto hz = with_grid(comb.telling_hz({lowest_hz, highest_hz, grid_ratio, rate}));
    const Probe probe(comb, rate);
    EXPECT_LE(most_extrema(hz, [&](double f) { return probe.level_db(f); }), 1);
    EXPECT_GT(hz.size(), 2 * (highest_hz - lowest_hz) / 48) << "every tooth has its points";
}

TEST(Telling, WhatOnlyScalesOrDelaysTellsNothing) {
    EXPECT_TRUE(Filter(Gain{3}).telling_hz({lowest_hz, highest_hz, grid_ratio, rate}).empty());
    EXPECT_TRUE(Filter(Delay{480}).telling_hz({lowest_hz, highest_hz, grid_ratio, rate}).empty());
}

TEST(Telling, ForADrawingRipplesThatWouldBeABlotAreLeftOut) {
    const Filter fir{Taps(noise(50000, 7))};
    EXPECT_TRUE(fir.telling_hz({lowest_hz, highest_hz, grid_ratio, rate, 1024}).empty());
    EXPECT_GT(fir.telling_hz({lowest_hz, highest_hz, grid_ratio, rate}).size(), 50000u);
    EXPECT_TRUE(ripples_too_often(50000, {lowest_hz, highest_hz, grid_ratio, rate, 1024}));
    EXPECT_FALSE(ripples_too_often(500, {lowest_hz, highest_hz, grid_ratio, rate, 1024}));
}

} // namespace
} // namespace syntonon
