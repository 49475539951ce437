// Roots of networks against tables worked out in 80 digits.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/rational.h"

#include "core/filter/form.h"
#include "tests/core/filter/order_200_roots.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <iterator>
#include <span>
#include <tuple>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

// Each of the table is there, and nothing else is.
void expect_upper_roots(const std::vector<Complex>& found, std::span<const Complex> wanted,
                        double tolerance) {
    std::vector<Complex> upper;
    std::ranges::copy_if(found, std::back_inserter(upper),
                         [](const Complex& z) { return z.imag() >= 0; });
    ASSERT_EQ(upper.size(), wanted.size());
    for (const Complex& z : wanted) {
        const auto nearest = std::ranges::min_element(
            upper, {}, [&](const Complex& other) { return std::abs(other - z); });
        EXPECT_LT(std::abs(*nearest - z), tolerance) << z;
        upper.erase(nearest);
    }
}

TEST(Rational, APhaserOfAHundredAllPassesHasItsRootsTo1e12) {
    const Filter all_pass(Cascade{{Biquad{0.72, -1.6, 1, -1.6, 0.72}}});
    const Filter loop = closed_loop({repeated(all_pass, 100), 0.62, Filter(Delay{1})}).value();
    const Filter phaser(ParallelSum{{{0.5, Filter()}, {0.5, loop}}});
    const auto& roots = phaser.roots();
    ASSERT_TRUE(roots) << to_text(roots.error());
    EXPECT_EQ(roots->zeros.size(), 201u);
    EXPECT_LT(roots->uncertainty, 1e-11);
    expect_upper_roots(roots->zeros, order_200::phaser_zeros, 1e-12);
    expect_upper_roots(roots->poles, order_200::phaser_poles, 1e-12);
}

TEST(Rational, TwoLongRowsSideBySideHaveTheirZerosTo1e12) {
    const auto row = [](int first) {
        Cascade all;
        for (int i = 0; i < 50; ++i) {
            const double k = 2 * i + first, r = 0.8 + 0.0015 * k;
            const double a1 = -2 * r * (1 - 0.019 * k), a2 = r * r;
            all.sections.push_back({1, a1 * 0.98, a2 * 0.96, a1, a2});
        }
        return Filter(all);
    };
    const auto roots = Filter(ParallelSum{{{1, row(0)}, {-0.75, row(1)}}}).roots();
    ASSERT_TRUE(roots) << to_text(roots.error());
    EXPECT_EQ(roots->zeros.size(), 200u);
    expect_upper_roots(roots->zeros, order_200::two_rows_zeros, 1e-12);
}

TEST(Rational, IsWrittenOutAsOneRecursion) {
    // Round y = x + 0.7 y[n - 3] beside half its input: (1.5 - 0.35 x^3) / (1 - 0.7 x^3).
    const Filter comb = closed_loop({Filter(), 0.7, Filter(Delay{3})}).value();
    const Filter net(ParallelSum{{{1, comb}, {0.5, Filter()}}});
    const Coefficients all = coefficients_of(*net.rational());
    ASSERT_EQ(all.numerator.size(), 4u);
    ASSERT_EQ(all.denominator.size(), 4u);
    for (const auto& [k, b, a] :
         {std::tuple{0, 1.5, 1.0}, {1, 0.0, 0.0}, {2, 0.0, 0.0}, {3, -0.35, -0.7}}) {
        EXPECT_NEAR(all.numerator[static_cast<std::size_t>(k)], b, 1e-15) << k;
        EXPECT_NEAR(all.denominator[static_cast<std::size_t>(k)], a, 1e-15) << k;
    }
    EXPECT_FALSE(Filter(ParallelSum{{{1, Filter()}, {1, Filter(Delay{1 << 20})}}}).rational())
        << "too long, and it says so";
}

TEST(Rational, SaysHowFarRootsMayBeOffThatFallTogether) {
    // 1 - 1.8 x + 0.81 x^2, a double zero at 0.9: a rounding of 1e-16 moves it by 1e-8.
    const auto roots =
        Filter(ParallelSum{{{1, Filter(Taps({1, -1.8}))}, {0.81, Filter(Delay{2})}}}).roots();
    ASSERT_TRUE(roots);
    ASSERT_EQ(roots->zeros.size(), 2u);
    double off = 0;
    for (const Complex& zero : roots->zeros) {
        off = std::max(off, std::abs(zero - 0.9));
    }
    EXPECT_GE(roots->uncertainty, off);
    EXPECT_GT(roots->uncertainty, 1e-8) << "and says that it is not known better";
}

} // namespace
} // namespace syntonon
