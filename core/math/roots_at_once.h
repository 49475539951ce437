// All zeros of a function that is a polynomial but need not be written as one.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <complex>
#include <cstddef>
#include <functional>
#include <optional>
#include <span>
#include <vector>

namespace syntonon {

// p'(z) / p(z) of the polynomial p. Where p(z) = 0 it is infinite (any non-finite value).
using LogDerivative = std::function<std::complex<double>(std::complex<double> z)>;

// The `degree` zeros of p, found together: each is moved by Newton's step, corrected for the pull
// of the others (O. Aberth, Iteration methods for finding all zeros of a polynomial simultaneously,
// Math. Comp. 27, 1973, eq. 2.3). From places near them, as many as there are known; the rest start
// on a circle of that radius. Nothing when the steps do not come to rest.
std::optional<std::vector<std::complex<double>>>
roots_at_once(const LogDerivative& log_derivative, std::size_t degree, double start_radius = 1,
              std::span<const std::complex<double>> near = {});

// The zeros of sum c[k] z^(count - 1 - k), real coefficients, leading one first and not 0;
// conjugate pairs are made exact and stand together, the upper one first. Nothing as above, and
// where they are so large or small that their squares are no numbers.
std::optional<std::vector<std::complex<double>>> polynomial_roots(std::span<const double> c);

// Makes numbers that nearly are one another's conjugates so exactly, and what is nearly real real;
// pairs are put together, the upper one first.
void pair_conjugates(std::vector<std::complex<double>>& roots);

} // namespace syntonon
