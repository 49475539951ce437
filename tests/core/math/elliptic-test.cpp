// Elliptic functions against printed values and their identities.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/elliptic.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

EllipticModulus modulus(double k) {
    return {k, std::sqrt((1 - k) * (1 + k))};
}

TEST(Elliptic, QuarterPeriodsAndHalves) {
    for (const double k : {1e-6, 0.1, 0.5, 0.9, 0.999999}) {
        const EllipticFunctions f(modulus(k));
        EXPECT_NEAR(f.sn(0.0).real(), 0, 1e-15);
        EXPECT_NEAR(f.sn(1.0).real(), 1, 1e-15);
        EXPECT_NEAR(f.cd(0.0).real(), 1, 1e-15);
        EXPECT_NEAR(f.cd(1.0).real(), 0, 1e-15);
        // sn(K/2) = 1 / sqrt(1 + k') (Abramowitz and Stegun, 16.5.2).
        EXPECT_NEAR(f.sn(0.5).real(), 1 / std::sqrt(1 + modulus(k).complement), 1e-14) << k;
        EXPECT_NEAR(f.cd(0.5).real(), 1 / std::sqrt(1 + modulus(k).complement), 1e-14)
            << "cd(u) = sn(K - u)";
    }
}

TEST(Elliptic, TheInverseOnTheImaginaryAxisIsOne) {
    for (const double k : {1e-9, 0.3, 0.99}) {
        const EllipticFunctions f(modulus(k));
        for (const double x : {1e-3, 0.7, 2.9, 40.0}) {
            const Complex back = f.sn({0, f.inverse_sn_imaginary(x)});
            EXPECT_NEAR(back.imag(), x, 1e-12 * x) << k;
            EXPECT_NEAR(back.real(), 0, 1e-14);
        }
    }
}

TEST(Elliptic, TheDegreeEquationHoldsBackwards) {
    // k1 = k^n prod sn(u_i, k)^4, u_i = (2 i - 1) / n (Orfanidis, eq. 47).
    for (const int order : {1, 2, 3, 7, 20}) {
        for (const double k1 : {1e-7, 1e-3, 0.4}) {
            const EllipticModulus k = selectivity_of(order, modulus(k1));
            EXPECT_NEAR(k.k * k.k + k.complement * k.complement, 1, 1e-13);
            const EllipticFunctions f(k);
            double product = std::pow(k.k, order);
            for (int i = 1; i <= order / 2; ++i) {
                product *= std::pow(f.sn((2.0 * i - 1) / order).real(), 4);
            }
            EXPECT_NEAR(product, k1, 1e-11 * k1) << order;
        }
    }
}

} // namespace
} // namespace syntonon
