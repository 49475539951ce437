// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/line_moments.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

// By Simpson's rule on many places.
Complex by_sums(const std::vector<LinePiece>& lines, double t) {
    constexpr int steps = 20000;
    Complex sum = 0;
    for (const LinePiece& line : lines) {
        const double h = (line.to - line.from) / steps;
        for (int k = 0; k <= steps; ++k) {
            const double w = std::lerp(line.from, line.to, double(k) / steps);
            const double part = k == 0 || k == steps ? 1 : k % 2 == 1 ? 4 : 2;
            sum += part * h / 3 * line.at(w) * std::polar(1.0, w * t);
        }
    }
    return sum;
}

TEST(LineMoments, AreTheIntegrals) {
    const std::vector<LinePiece> lines{
        {0, 0.7, 1, 1}, {0.7, 1.5, 1, -0.5}, {2, 2, 3, 3}, {2.1, 3.1, 0, 2}};
    for (const double first : {-70.5, -0.3, 0.0, 0.25, 400.0}) {
        const auto moments = line_moments(lines, first, 140);
        for (std::size_t n = 0; n < moments.size(); n += 7) {
            EXPECT_LT(std::abs(moments[n] - by_sums(lines, first + double(n))), 3e-11)
                << first << " " << n;
        }
    }
}

// A narrow line, and times near 0, where the closed form would cancel.
TEST(LineMoments, DoNotCancel) {
    const double width = std::exp2(-24); // exact beside 1
    const std::vector<LinePiece> narrow{{1, 1 + width, 2, 4}};
    for (const auto& moment : line_moments(narrow, 5, 50)) {
        EXPECT_NEAR(std::abs(moment) / width, 3, 1e-11);
    }
    const std::vector<LinePiece> one{{0, std::numbers::pi, 1, 1}};
    EXPECT_NEAR(line_moments(one, 1e-9, 1)[0].real(), std::numbers::pi, 1e-15);
    EXPECT_EQ(line_moments(one, 0, 1)[0], Complex(std::numbers::pi, 0));
    EXPECT_LT(std::abs(line_moments(one, 2, 1)[0]), 1e-15);
}

// The turning factors are carried on: no drift.
TEST(LineMoments, StayRightFarOut) {
    const std::vector<LinePiece> edge{{0, 1, 1, 1}};
    const auto moments = line_moments(edge, 0, 200000);
    for (std::size_t n = 199000; n < 200000; n += 13) {
        const auto t = double(n);
        EXPECT_NEAR(moments[n].real(), std::sin(t) / t, 1e-18);
    }
}

} // namespace
} // namespace syntonon
