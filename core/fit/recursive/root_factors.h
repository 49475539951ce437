// A recursive filter as numbers that a fit can turn freely.
//
// The bilinear image s = (1 - 1/z) / (1 + 1/z) of the unit circle is s = j tan(w / 2), w the angle.
// There every pair of roots, conjugate or real, on one side of the axis is
//     P(s) = s^2 + a d s + a^2,      a > 0, the damping d > 0 inside of the circle,
// conjugate where |d| < 2; ln a and ln |d| are logarithms of frequency and bandwidth, in which
// roots are alike everywhere. With c = cos(w / 2), e = sin(w / 2), on the circle and but for a
// factor (1 + s)^2 that belongs to roots at z = 0,
//     P c^2 = (a^2 c^2 - e^2) + j a d e c,      and for a single root at s = -a:  a c + j e,
// so that level, phase and their slopes are closed forms.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/grid.h"
#include "core/filter/roots.h"

#include <complex>
#include <span>
#include <vector>

namespace syntonon {

// Of a pole the damping is e^turn, so that it stays inside; of a zero 2 sinh(turn), which may
// cross the circle. A single root has no damping: its turn is 1 inside, -1 outside.
struct RootFactor {
    bool is_pole = true, is_pair = true;
    double log_a = 0, turn = 0;
};

struct RootFactors {
    double gain_db = 0; // of all of it, beside the factors; see roots_of
    bool is_inverted = false;
    std::vector<RootFactor> all;
};

double damping_of(const RootFactor& factor); // 0 of a single root
// ln a of a root that stands at a frequency below half the rate.
double log_image(double hz, double sample_rate_hz);

// Adds the factor's level in dB (a pole's is subtracted) to `level_db`, and puts its derivatives by
// log_a and turn there, each of the grid's size; not where they are empty, the latter two together.
void add_level(const RootFactor& factor, const FrequencyGrid& grid, std::span<double> level_db,
               std::span<double> by_log_a, std::span<double> by_turn);
// Of all of them; quicker than one by one.
void add_level(std::span<const RootFactor> factors, const FrequencyGrid& grid,
               std::span<double> level_db);
// The same of its phase in rad. Of what is inside it is unwrapped, 0 at 0 Hz.
void add_phase(const RootFactor& factor, const FrequencyGrid& grid, std::span<double> phase_rad,
               std::span<double> by_log_a, std::span<double> by_turn);

// Adds the factors of roots by their images, conjugates written out.
void add_images(bool is_pole, std::span<const std::complex<double>> images, RootFactors& factors);

// Between the plane and the numbers. Roots at z = -1, 1 or 0 are moved by no more than rounding.
// Neighbouring real roots on the same side become pairs.
RootFactors factors_of(const Roots& roots);
Roots roots_of(const RootFactors& factors);

} // namespace syntonon
