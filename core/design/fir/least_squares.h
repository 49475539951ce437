// Taps with the least weighted squared error.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/design/fir/amplitude.h"
#include "core/design/watch.h"

#include <vector>

namespace syntonon {

struct LeastSquares {
    std::vector<double> taps;
    double condition = 1; // of the normal equations
};

// Least sum over the pieces of the integral of weight |H(w) - gain(w) e^(-jw delay)|^2, the gain
// times j where it is odd. About the middle, (length - 1) / 2, the taps come out symmetric or
// antisymmetric by themselves; about another delay they have a phase that is linear only as nearly
// as the weights ask (T. W. Parks and C. S. Burrus, Digital Filter Design, 1987, section 3.2). The
// normal equations' matrix is Toeplitz either way, which the cosine form for linear phase hides in
// a sum of Toeplitz and Hankel matrices.
//
// The squared error is found to about 1e-15 of the target's: ripples below 1e-7 are not told apart.
// Refuses, the place empty: matrices that are not positive to the digits of a double; stopped().
Expected<LeastSquares> least_squares(std::size_t length, const Amplitude& wanted, bool is_odd,
                                     double delay_samples, const Watch& watch);

} // namespace syntonon
