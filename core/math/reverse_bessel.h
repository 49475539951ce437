// Reverse Bessel polynomials.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <complex>

namespace syntonon {

// t'(s) / t(s) of t(s) = sum over k of (2n - k)! / ((n - k)! k! 2^(n - k)) s^k, for n >= 1. Right
// of the imaginary axis by t_n = (2n - 1) t_(n-1) + s^2 t_(n-2) (E. Grosswald, Bessel Polynomials,
// 1978, chapter 3). On the left, where the roots are, that recurrence loses all digits (28 of them
// at n = 50); with z = -s and the modified spherical Bessel function i_n of the first kind,
//     t_n(-z) = e^(-2z) t_n(z) + (-1)^n 2 z^(n+1) e^(-z) i_n(z)
// (M. Abramowitz and I. Stegun, Handbook of Mathematical Functions, 10.2.4 and 10.2.17) has two
// parts that are each known to full precision.
std::complex<double> reverse_bessel_log_derivative(int n, std::complex<double> s);

} // namespace syntonon
