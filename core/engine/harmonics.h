// What a filter adds to a sine.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/filter/filter.h"

#include <cstddef>
#include <vector>

namespace syntonon {

struct Harmonics {
    double tone_hz = 0; // near the one that was asked for: whole periods in what is looked at
    std::vector<double> level_db; // of the sine's first, second, ... multiple below half the rate,
                                  // over a full-scale sine; -infinity where there is nothing
    double distortion = 0; // all but the first together, over the first: a ratio of amplitudes
    double rest_db = 0;    // what lies beside them: folded back, or swinging by itself
};

// Run until it has settled (half a second and 4 periods), then looked at over some 16384 samples.
// `peak`: of the sine, full scale being 1. Refused for an analog filter and a frequency that is not
// between 0 and half the rate.
Expected<Harmonics> harmonics_of(const Filter& filter, double hz, double peak,
                                 double sample_rate_hz, std::size_t most = 20);

} // namespace syntonon
