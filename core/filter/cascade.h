// Second-order sections one after the other.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/biquad.h"
#include "core/filter/cost.h"
#include "core/filter/grid.h"
#include "core/filter/response.h"
#include "core/filter/roots.h"

#include <complex>
#include <cstddef>
#include <span>
#include <vector>

namespace syntonon {

struct Cascade {
    std::vector<Biquad> sections;

    bool operator==(const Cascade&) const = default;
};

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
double group_delay_samples_at(const Cascade& cascade, double frequency_hz, double sample_rate_hz);

// Magnitude, exact unwrapped phase (summed quadratic by quadratic, see CircleQuadratic) and group
// delay from the analytic derivative of the phase (Oppenheim and Schafer, Discrete-Time Signal
// Processing, 3rd ed., section 5.3.1).
Response response(const Cascade& cascade, const FrequencyGrid& grid);

// The same at one frequency in [0, fs/2].
ResponsePoint response_at(const Cascade& cascade, double frequency_hz, double sample_rate_hz);

// 20 log10 |H| at sin^2(w/2) = half_sine_squared and sin(w) = sine: the verdict's inner loop.
double level_db_at(const Cascade& cascade, double half_sine_squared, double sine);

// The first `length` samples of the response to 1, 0, 0, ...
std::vector<double> impulse_response(const Cascade& cascade, std::size_t length);

Roots roots_of(const Cascade& cascade);

// Samples before the impulse response's first non-zero one: a cascade of sections with b0 != 0
// answers at once.
double latency_samples(const Cascade& cascade);

// For direct form II transposed; coefficients that are 0 or 1 cost nothing.
Cost cost(const Cascade& cascade);

} // namespace syntonon
