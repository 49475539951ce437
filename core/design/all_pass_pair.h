// A filter as half the sum, or half the difference, of two all-passes.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/filter/filter.h"

#include <array>

namespace syntonon {

// H = factors[0] A[0] + factors[1] A[1], every A of magnitude 1 and 1 at 0 Hz; with the second
// factor's sign turned it is the filter that is power-complementary to H.
struct AllPassPair {
    std::array<Roots, 2> branches;
    std::array<double, 2> factors{0.5, 0.5};
};

// Poles in the order of their damping, or of that of the prototype's poles that they were, go to
// the branches in turn. So it is for the Butterworth, Chebyshev and elliptic families: low- and
// high-pass of odd orders, and bands made of those (L. Gazsi, Explicit formulas for lattice wave
// digital filters, IEEE Trans. Circuits and Systems 32, 1985; P. P. Vaidyanathan, S. K. Mitra and
// Y. Neuvo, A new approach to the realization of low-sensitivity IIR digital filters, IEEE Trans.
// ASSP 34, 1986). Whether it is H is looked at on the circle, at more points than it has roots;
// refused where it is not, and without roots.
Expected<AllPassPair> all_pass_pair(const Filter& filter);

// The all-pass of these poles, its zeros mirroring them.
Roots all_pass_of(std::vector<std::complex<double>> poles);

} // namespace syntonon
