// Jacobi's elliptic functions of complex arguments, by descending Landen transformations (S. J.
// Orfanidis, Lecture Notes on Elliptic Filter Design, 2006, eq. 46-60).
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cmath>
#include <complex>
#include <vector>

namespace syntonon {

// k and k' = sqrt(1 - k^2), both kept: the smaller one could not be had from the other.
struct EllipticModulus {
    double k = 0, complement = 1;
};

class EllipticFunctions {
public:
    explicit EllipticFunctions(const EllipticModulus& modulus); // 0 < k < 1

    // Arguments in quarter periods: sn(1) = 1, cd(1) = 0.
    std::complex<double> cd(std::complex<double> u) const;
    std::complex<double> sn(std::complex<double> u) const;
    // The v with sn(j v) = j x, v real: x > 0 on the imaginary axis.
    double inverse_sn_imaginary(double x) const;

private:
    std::complex<double> ascended(std::complex<double> w) const;

    EllipticModulus modulus_;
    std::vector<EllipticModulus> descending_; // until k is as good as 0
};

// The modulus k of the degree equation K'/K = K1'/(n K1), which a filter of order n and
// discrimination k1 has as its selectivity: from the nome exp(-pi K'/K), by the products of the
// theta functions (E. T. Whittaker and G. N. Watson, A Course of Modern Analysis, 4th ed., sections
// 21.3 and 22.1), so that neither k nor k' loses its digits.
EllipticModulus selectivity_of(int order, const EllipticModulus& discrimination);
// The other way round: the k1 of the same equation.
EllipticModulus discrimination_of(int order, const EllipticModulus& selectivity);

inline EllipticModulus modulus_of(double k) {
    return {k, std::sqrt((1 - k) * (1 + k))};
}
// K' / K, of the two quarter periods.
double period_ratio(const EllipticModulus& modulus);
double quarter_period(const EllipticModulus& modulus); // K

} // namespace syntonon
