// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/reverse_bessel.h"

#include <cmath>
#include <cstddef>
#include <vector>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

// Of orders n and n - 1.
struct Neighbours {
    Complex upper, lower;
};

Neighbours polynomials(int n, Complex s) {
    Neighbours t{s + 1.0, 1.0};
    for (int k = 2; k <= n; ++k) {
        t = {(2.0 * k - 1) * t.upper + s * s * t.lower, t.upper};
    }
    return t;
}

// z^(n+1) i_n(z) and z^n i_(n-1)(z), Re z > 0. The ratios i_k / i_(k-1) by backward recurrence from
// far above (J. C. P. Miller's method: W. Gautschi, Computational aspects of three-term recurrence
// relations, SIAM Review 9, 1967), down to i_0 = sinh(z) / z.
Neighbours first_kind(int n, Complex z) {
    const int far = n + 40 + static_cast<int>(std::abs(z));
    Complex ratio = 0;
    std::vector<Complex> ratios(static_cast<std::size_t>(n) + 1);
    for (int k = far; k >= 1; --k) {
        // i_(k-1) = (2k + 1) / z i_k + i_(k+1)
        ratio = 1.0 / ((2.0 * k + 1) / z + ratio);
        if (k <= n) {
            ratios[static_cast<std::size_t>(k)] = ratio;
        }
    }
    Neighbours found{std::sinh(z), 0};
    for (std::size_t k = 1; k < ratios.size(); ++k) {
        found = {found.upper * z * ratios[k], found.upper};
    }
    return found;
}

} // namespace

Complex reverse_bessel_log_derivative(int n, Complex s) {
    Neighbours t;
    if (s.real() >= 0) {
        t = polynomials(n, s);
    } else {
        const Complex z = -s;
        const Neighbours growing = polynomials(n, z), falling = first_kind(n, z);
        // Both but for e^(-z), which the quotient does not need.
        const Complex small = std::exp(-z);
        const double sign = n % 2 == 0 ? 2 : -2;
        t = {small * growing.upper + sign * falling.upper,
             small * growing.lower - sign * falling.lower};
    }
    // t_n' = t_n - s t_(n-1)
    return 1.0 - s * t.lower / t.upper;
}

} // namespace syntonon
