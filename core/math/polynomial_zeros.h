// The zeros of a polynomial that is given by its coefficients, and the way back.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <complex>
#include <functional>
#include <optional>
#include <span>
#include <vector>

namespace syntonon {

inline bool never_stopped() {
    return false;
}

struct PolynomialZeros {
    // Conjugates adjacent, the upper one first; multiple ones equal and adjacent.
    std::vector<std::complex<double>> zeros;
    // How far the zeros, multiplied out again, are off: the greatest relative difference of a
    // coefficient (of one that is 0, against the largest).
    double round_trip = 0;
};

// Of sum c[k] z^(count - 1 - k), real coefficients, leading one first and not 0; trailing zeros are
// zeros at the origin. Eigenvalues (companion_eigenvalues.h) are polished together in as many
// digits as the degree asks for (Aberth, see roots_at_once.h), and those that rounding drove apart
// put together again (multiple_zeros.h). Nothing where a coefficient is not finite or the steps do
// not come to rest, and once `is_stopped`, asked every few milliseconds, says so. A degree of 200
// takes about a second.
std::optional<PolynomialZeros>
polynomial_zeros(std::span<const double> c,
                 const std::function<bool()>& is_stopped = never_stopped);

// The greatest magnitude of a zero, infinite where polynomial_zeros() has nothing. Above a degree
// of 32 zeros that rounding drove apart are not put together again, which takes most of the time.
double greatest_zero(std::span<const double> c);

// leading prod(z - zero), conjugates written out: the coefficients, highest power first, each
// rounded once.
std::vector<double> multiplied_out(double leading, std::span<const std::complex<double>> zeros);

} // namespace syntonon
