// What a cascade of second-order sections answers.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/biquad.h"
#include "core/filter/filter.h"

#include <complex>
#include <cstddef>
#include <span>
#include <vector>

namespace syntonon {

// H(e^jw) at each grid point into `re` and `im` (both of the grid's size).
void complex_response(const Cascade& cascade, const FrequencyGrid& grid, std::span<double> re,
                      std::span<double> im);

// The phase at each grid point but for whole turns, by the quick way of complex_response.
std::vector<double> wrapped_phase_rad(const Cascade& cascade, const FrequencyGrid& grid);

// 20 log10 |H| at each grid point, by the quick way of complex_response.
std::vector<double> magnitude_db(const Cascade& cascade, const FrequencyGrid& grid);

// Group delay in samples at each grid point, as in response(), by a quicker way that needs no
// phase.
std::vector<double> group_delay_samples(const Cascade& cascade, const FrequencyGrid& grid);

// Magnitude, exact unwrapped phase (summed quadratic by quadratic, see CircleQuadratic) and group
// delay from the analytic derivative of the phase (Oppenheim and Schafer, Discrete-Time Signal
// Processing, 3rd ed., section 5.3.1).
Response response(const Cascade& cascade, const FrequencyGrid& grid);

std::shared_ptr<const Prober> prober(const Cascade& cascade);
void run(const Cascade& cascade, std::span<double> signal);

Roots roots_of(const Cascade& cascade);
inline double finite_samples(const Cascade& cascade) {
    return 2.0 * static_cast<double>(cascade.sections.size());
}

// Samples before the impulse response's first non-zero one: a cascade of sections with b0 != 0
// answers at once.
double latency_samples(const Cascade& cascade);

// For direct form II transposed; coefficients that are 0 or 1 cost nothing.
Cost cost(const Cascade& cascade);
std::size_t bytes_of(const Cascade& cascade);

} // namespace syntonon
