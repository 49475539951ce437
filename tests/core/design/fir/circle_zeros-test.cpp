// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/circle_zeros.h"

#include "core/base/units.h"
#include "core/math/fft.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

// 3 prod(1 - 2 cos(zero) / z + 1 / z^2); single ones at 0 and pi on request.
std::vector<double> with_zeros(const std::vector<double>& pairs, bool at_0, bool at_pi) {
    std::vector<double> taps{3};
    const auto times = [&taps](std::initializer_list<double> factor) {
        std::vector<double> longer(taps.size() + factor.size() - 1, 0.0);
        for (std::size_t i = 0; i < taps.size(); ++i) {
            for (std::size_t k = 0; k < factor.size(); ++k) {
                longer[i + k] += taps[i] * factor.begin()[k];
            }
        }
        taps = longer;
    };
    for (const double zero : pairs) {
        times({1, -2 * std::cos(zero), 1});
    }
    if (at_0) {
        times({1, -1});
    }
    if (at_pi) {
        times({1, 1});
    }
    return taps;
}

std::vector<double> magnitude_of(const std::vector<double>& taps, std::size_t length) {
    RealFft fft(length);
    std::ranges::fill(fft.signal(), 0.0);
    std::ranges::copy(taps, fft.signal().begin());
    fft.to_spectrum();
    std::vector<double> magnitude;
    for (const auto& bin : fft.spectrum()) {
        magnitude.push_back(std::abs(bin));
    }
    return magnitude;
}

TEST(CircleZeros, AreFoundAndTakenOut) {
    const std::vector<double> pairs{0.02, 0.9, 1.3, 2.2, 2.2 + 1e-2, 3.1};
    for (const bool at_0 : {false, true}) {
        for (const bool at_pi : {false, true}) {
            const auto taps = with_zeros(pairs, at_0, at_pi);
            auto wanted = pairs;
            if (at_0) {
                wanted.insert(wanted.begin(), 0);
            }
            if (at_pi) {
                wanted.push_back(pi);
            }
            const auto zeros = circle_zeros(taps, 4096);
            ASSERT_EQ(zeros.size(), wanted.size()) << at_0 << at_pi;
            for (std::size_t i = 0; i < zeros.size(); ++i) {
                EXPECT_NEAR(zeros[i], wanted[i], 1e-11);
            }
            // Nothing but the factor is left.
            for (const double log : log_without_zeros(magnitude_of(taps, 4096), wanted)) {
                EXPECT_NEAR(log, std::log(3.0), 1e-8);
            }
        }
    }
}

// A zero on a place of the transform itself, where the magnitude is 0.
TEST(CircleZeros, OnAPlaceTheyAreBridged) {
    const std::vector<double> pairs{2 * pi * 100 / 1024, 1.7};
    const auto taps = with_zeros(pairs, false, false);
    for (const double log : log_without_zeros(magnitude_of(taps, 1024), pairs)) {
        EXPECT_NEAR(log, std::log(3.0), 1e-8);
    }
}

TEST(CircleZeros, NoneOfTapsThatAreNotSymmetric) {
    EXPECT_TRUE(circle_zeros(std::vector{1.0, 0.5, 0.2}, 64).empty());
    EXPECT_TRUE(circle_zeros(std::vector{1.0}, 64).empty());
    EXPECT_TRUE(circle_zeros(std::vector{1.0, 4.0, 1.0}, 64).empty()) << "they lie off the circle";
}

} // namespace
} // namespace syntonon
