// Poles and zeros in the z-plane.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/biquad.h"

#include <complex>
#include <span>
#include <vector>

namespace syntonon {

// H(z) = gain * prod(z - zero) / prod(z - pole) * z^(poles - zeros), conjugates written out, pairs
// adjacent with the upper one first. Roots at the origin that cancel are left out.
struct Roots {
    std::vector<std::complex<double>> zeros;
    std::vector<std::complex<double>> poles;
    double gain = 1;
};

// Roots of c0 z^2 + c1 z + c2 by the formula that does not cancel (Press et al., Numerical Recipes,
// 3rd ed., eq. 5.6.4-5.6.5). Leading zero coefficients lower the degree; an identically zero
// polynomial has no roots.
std::vector<std::complex<double>> quadratic_roots(double c0, double c1, double c2);

Roots roots_of(const Biquad& section);
Roots roots_of(std::span<const Biquad> sections);

// 1 - (largest pole radius); positive when stable. 1 without poles.
double stability_margin(const Roots& roots);

// Frequencies worth adding to a grid so that no root's peak or dip is stepped over: each root's own
// angle and points around it at distances of its bell's half-width |1 - radius|, times powers of
// two, until `grid_ratio` (the ratio between neighbouring grid points) resolves the rest. Only what
// lies within [low_hz, high_hz] is returned, unsorted.
std::vector<double> frequencies_near(const Roots& roots, double low_hz, double high_hz,
                                     double grid_ratio, double sample_rate_hz);

} // namespace syntonon
