// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/roots_at_once.h"

#include <algorithm>
#include <gtest/gtest.h>
#include <numbers>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

double distance_to_nearest(const std::vector<Complex>& roots, Complex wanted) {
    double least = 1e300;
    for (const Complex& root : roots) {
        least = std::min(least, std::abs(root - wanted));
    }
    return least;
}

TEST(PolynomialRoots, OfUnityLieOnTheCircle) {
    for (const std::size_t degree : {1u, 2u, 5u, 64u, 500u}) {
        std::vector<double> c(degree + 1, 0.0);
        c.front() = 1;
        c.back() = -1;
        const auto roots = polynomial_roots(c);
        ASSERT_TRUE(roots);
        ASSERT_EQ(roots->size(), degree);
        for (std::size_t k = 0; k < degree; ++k) {
            const double angle = 2 * std::numbers::pi * double(k) / double(degree);
            EXPECT_LT(distance_to_nearest(*roots, std::polar(1.0, angle)), 1e-12) << degree;
        }
    }
}

TEST(PolynomialRoots, OfAKnownProductAreFoundInPairs) {
    // (z - 0.5)(z + 2)(z^2 - 1.2 z + 0.72)
    const std::vector<double> c{1, 0.3, -2.08, 2.28, -0.72};
    const auto roots = polynomial_roots(c);
    ASSERT_TRUE(roots);
    for (const Complex wanted :
         {Complex(0.5, 0), Complex(-2, 0), Complex(0.6, 0.6), Complex(0.6, -0.6)}) {
        EXPECT_LT(distance_to_nearest(*roots, wanted), 1e-14);
    }
    for (std::size_t i = 0; i < roots->size(); ++i) {
        if ((*roots)[i].imag() > 0) {
            ASSERT_LT(i + 1, roots->size());
            EXPECT_EQ((*roots)[i + 1], std::conj((*roots)[i]));
        }
    }
}

TEST(PolynomialRoots, TrailingZerosAreRootsAtTheOrigin) {
    const std::vector<double> c{2, -1, 0, 0};
    const auto roots = polynomial_roots(c);
    ASSERT_TRUE(roots);
    ASSERT_EQ(roots->size(), 3u);
    EXPECT_EQ(std::ranges::count(*roots, Complex(0, 0)), 2);
    EXPECT_LT(distance_to_nearest(*roots, 0.5), 1e-15);
}

TEST(PolynomialRoots, ThatAreBeyondSquaresAreNotFound) {
    EXPECT_FALSE(polynomial_roots(std::vector<double>{1e-12, 0.0148, -1e300})) << "near 1e156";
    EXPECT_FALSE(polynomial_roots(std::vector<double>{1e300, 0, 1e-100})) << "near 1e-200";
    EXPECT_EQ(polynomial_roots(std::vector<double>{1e-150, 1, 1e-150})->size(), 2U);
}

TEST(PolynomialRoots, OfAConstantAreNone) {
    EXPECT_TRUE(polynomial_roots(std::vector<double>{3})->empty());
    EXPECT_TRUE(polynomial_roots(std::vector<double>{})->empty());
}

TEST(RootsAtOnce, NeedNoCoefficients) {
    // Twelve zeros crowded beside z = 1, where a written-out polynomial has lost them.
    std::vector<Complex> wanted;
    for (int k = 0; k < 6; ++k) {
        wanted.push_back(std::polar(0.999, 0.001 + 0.0005 * k));
        wanted.push_back(std::conj(wanted.back()));
    }
    const auto log_derivative = [&](Complex z) {
        Complex sum = 0;
        for (const Complex& root : wanted) {
            sum += 1.0 / (z - root);
        }
        return sum;
    };
    const auto roots = roots_at_once(log_derivative, wanted.size());
    ASSERT_TRUE(roots);
    for (const Complex& root : wanted) {
        EXPECT_LT(distance_to_nearest(*roots, root), 1e-14);
    }
}

} // namespace
} // namespace syntonon
