// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/phase_form.h"

#include "core/base/units.h"
#include "core/design/fir/exchange.h"
#include "core/math/polynomial_zeros.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <limits>

namespace syntonon {
namespace {

std::vector<double> low_pass(std::size_t length) {
    const double pass = 0.1, stop = pass + 2.0 / double(length);
    const Amplitude wanted{{{0, 2 * pi * pass, 1, 1}, 1}, {{2 * pi * stop, pi, 0, 0}, 10}};
    return equiripple({length, false}, wanted, Watch())->taps;
}

double magnitude(const std::vector<double>& taps, double w) {
    std::complex<double> h = 0;
    for (std::size_t n = 0; n < taps.size(); ++n) {
        h += taps[n] * std::polar(1.0, -w * double(n));
    }
    return std::abs(h);
}

void expect_same_level(const std::vector<double>& a, const std::vector<double>& b, double db) {
    for (int k = 0; k < 500; ++k) {
        const double w = pi * k / 499, level = magnitude(b, w);
        if (level > 1e-5) {
            EXPECT_NEAR(20 * std::log10(magnitude(a, w) / level), 0, db) << k;
        }
    }
}

// A zero at 2 and one at -1/2: the first is mirrored to 1/2, its level goes into the gain.
TEST(PhaseForm, OfTwoZerosByHand) {
    const std::vector<double> taps{1, -1.5, -1}; // (1 - 2/z)(1 + 1/2z)
    const auto minimum = with_phase(taps, 0, Watch());
    ASSERT_TRUE(minimum);
    EXPECT_NEAR(std::abs(minimum->taps[0]), 2, 1e-12); // +-2 (1 - 1/2z)(1 + 1/2z)
    EXPECT_NEAR(minimum->taps[1], 0, 1e-12);
    EXPECT_NEAR(std::abs(minimum->taps[2]), 0.5, 1e-12);
    const auto maximum = with_phase(taps, 1, Watch());
    ASSERT_TRUE(maximum);
    EXPECT_NEAR(std::abs(maximum->taps[0]), 0.5, 1e-12);
    EXPECT_NEAR(std::abs(maximum->taps[2]), 2, 1e-12);
}

TEST(PhaseForm, MinimumKeepsTheLevelAndMovesAllZerosIn) {
    for (const std::size_t length : {24u, 31u, 65u, 101u, 301u}) {
        const auto taps = low_pass(length);
        const auto made = with_phase(taps, 0, Watch());
        ASSERT_TRUE(made);
        EXPECT_EQ(made->taps.size(), length);
        EXPECT_EQ(made->fft_length == 0, length <= most_by_roots);
        expect_same_level(made->taps, taps, 1e-6);
        if (length <= 31) {
            const auto zeros = polynomial_zeros(made->taps);
            for (const auto& zero : zeros->zeros) {
                EXPECT_LT(std::abs(zero), 1 + 1e-6);
            }
        }
        // Of all with this level it has its energy earliest, and its mirror image latest.
        double early = 0, before = 0;
        for (std::size_t n = 0; n < length / 4; ++n) {
            early += made->taps[n] * made->taps[n];
            before += taps[n] * taps[n];
        }
        EXPECT_GT(early, before);
        const auto latest = with_phase(taps, 1, Watch());
        for (std::size_t n = 0; n < length; ++n) {
            EXPECT_NEAR(latest->taps[length - 1 - n], made->taps[n], 1e-6);
        }
    }
}

TEST(PhaseForm, BetweenTheyGoOverIntoOneAnother) {
    // Without zeros on the circle, so that the level is kept to the end.
    std::vector<double> taps;
    for (int n = 0; n < 201; ++n) {
        taps.push_back(std::exp(-0.002 * (n - 100) * (n - 100)) * (n == 100 ? 2 : 1));
    }
    double before = -std::numeric_limits<double>::infinity();
    for (const double share : {0.0, 0.25, 0.5, 0.75, 1.0}) {
        const auto made = with_phase(taps, share, Watch());
        ASSERT_TRUE(made);
        EXPECT_LT(made->error_db, 0.1) << share;
        const auto main = std::ranges::max_element(made->taps) - made->taps.begin();
        EXPECT_NEAR(double(main), 200 * share, 3);
        const double energy = pre_ringing(made->taps).energy_db;
        EXPECT_GE(energy, before) << share;
        before = energy;
    }
}

TEST(PhaseForm, SilenceIsRefused) {
    EXPECT_FALSE(with_phase(std::vector<double>(10, 0.0), 0, Watch()));
    const Watch watch;
    watch.stop();
    EXPECT_FALSE(with_phase(low_pass(101), 0.3, watch));
}

TEST(PreRinging, IsWhatComesBeforeTheGreatestTap) {
    const std::vector<double> taps{0.001, 0, 0.1, -1, 0.5};
    const PreRinging before = pre_ringing(taps, -40);
    EXPECT_NEAR(before.energy_db, 10 * std::log10(0.010001 / 1.260001), 1e-9);
    EXPECT_EQ(before.earliest_samples, 1);
    EXPECT_EQ(pre_ringing(taps, -60).earliest_samples, 3);
    EXPECT_TRUE(std::isinf(pre_ringing(std::vector{1.0, 0.5}).energy_db));
}

} // namespace
} // namespace syntonon
