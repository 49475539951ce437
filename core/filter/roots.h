// Poles and zeros, in the z-plane or the s-plane.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/axis.h"
#include "core/filter/biquad.h"
#include "core/filter/telling.h"

#include <complex>
#include <span>
#include <vector>

namespace syntonon {

// H(z) = gain * z^-delay * prod(1 - zero/z) / prod(1 - pole/z), conjugates written out, pairs
// adjacent with the upper one first. Roots at z = 0 are left out: they change nothing.
// In the s-plane H(s) = gain * prod(s - zero) / prod(s - pole), s in rad/s, no delay; roots at the
// origin are there.
struct Roots {
    std::vector<std::complex<double>> zeros;
    std::vector<std::complex<double>> poles;
    double gain = 1;
    double delay_samples = 0;
    // How far off a root may be by rounding where they had to be searched for; roots that nearly
    // fall together cannot be told more closely.
    double uncertainty = 0;
    Domain domain = Domain::sampled; // what has neither roots nor delay belongs to both
};

// Of both filters one after the other.
Roots series(Roots first, const Roots& second);

// Roots of c0 z^2 + c1 z + c2 by the formula that does not cancel (Press et al., Numerical Recipes,
// 3rd ed., eq. 5.6.4-5.6.5). Leading zero coefficients lower the degree; an identically zero
// polynomial has no roots. In extended precision, for coefficients that are known that well.
std::vector<std::complex<double>> quadratic_roots(double c0, double c1, double c2);
std::vector<std::complex<double>> quadratic_roots(long double c0, long double c1, long double c2);

Roots roots_of(const Biquad& section);
Roots roots_of(std::span<const Biquad> sections);

// The logarithmic derivative H'(z)/H(z), and H(z).
struct RootsValue {
    std::complex<double> h, log_slope;
};
RootsValue value_of(const Roots& roots, std::complex<double> z); // or s

// How far the answer of the slowest pole falls in a sample: its radius, or e^(Re pole / rate) in
// the s-plane. 0 without poles, 1 or more where it does not fall.
double slowest_pole_radius(const Roots& roots, double sample_rate_hz);
// Poles that do not die away: outside of the circle or on it, right of the imaginary axis or on it.
int unstable_poles(const Roots& roots);

// Adds frequencies so that no root's peak or dip is stepped over: each root's own angle and points
// around it at distances of its bell's half-width |1 - radius| (|Re|), times powers of two, until
// the range's grid resolves the rest.
void add_near_roots(const Roots& roots, const TellingRange& range, std::vector<double>& out);

} // namespace syntonon
