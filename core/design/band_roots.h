// A low-pass prototype's roots turned into those of a band.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/classical.h"
#include "core/design/prototype.h"

#include <array>
#include <complex>
#include <vector>

namespace syntonon {

// Conjugates adjacent, the upper one first. Zeros at the origin and at infinity by their number:
// with the others they are as many as the poles.
struct BandRoots {
    std::vector<std::complex<double>> zeros, poles;
    int zeros_at_origin = 0, zeros_at_infinity = 0;
    double passband_level = 1; // |H| at 0 Hz (low-pass, band-stop), at infinity (high-pass), or at
    double middle_rad_per_s = 0; // this, the geometric mean of both edges (band-pass)
};

// s -> s/w, w/s, (s^2 + w0^2)/(B s), B s/(s^2 + w0^2) with w0^2 = w1 w2 and B = w2 - w1 (Parks and
// Burrus, section 7.3.3), root by root: the quadratic of each by the formula that does not cancel.
// `level_at_0` is the prototype's, known better than by its roots.
BandRoots band_roots(const Prototype& prototype, ClassicalBand band,
                     const std::array<double, 2>& edges_rad_per_s, double level_at_0);

} // namespace syntonon
