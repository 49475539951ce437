// What an analog filter answers over time.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/filter/filter.h"

#include <cstddef>
#include <vector>

namespace syntonon {

// At t = k * step_s from rest. At t = 0 values are those just after it.
struct AnalogTimeResponse {
    std::vector<double> impulse; // in 1/s, without the impulse that passes at once
    std::vector<double> step;
    double at_once = 0; // H(infinity): that impulse's weight, and the step's height at t = 0
};

// Exact but for rounding: x(t + h) = e^(A h) x(t) of a state-space form whose blocks follow the
// filter's own structure, so that poles of any multiplicity, sums and loops are alike (T. Kailath,
// Linear Systems, 1980, sections 2.5 and 3.1; C. Moler and C. Van Loan, Nineteen dubious ways to
// compute the exponential of a matrix, 1978). Refused beyond most_states, and for sampled parts.
Expected<AnalogTimeResponse> analog_time_response(const Filter& filter, double step_s,
                                                  std::size_t count);
inline constexpr std::size_t most_states = 400;

} // namespace syntonon
