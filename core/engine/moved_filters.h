// A modelled filter moved while it runs, and the same filter in a direct form beside it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/modelled_filter.h"
#include "core/engine/modulation.h"

#include <cstddef>
#include <vector>

namespace syntonon {

struct MovedRun {
    std::vector<double> samples;
    double peak = 0;   // greatest magnitude
    double energy = 0; // of what comes out over that of what goes in
    double jump = 0;   // greatest difference between neighbouring samples
};
struct MovedRuns {
    std::vector<double> input;
    MovedRun modelled, direct, still; // still: modelled, not moved
};

// Both linear and at the sample rate; their coefficients change with every sample, as an oscillator
// of that rate and depth moves the frequency. The direct form is form II, whose states are those of
// the input through the poles alone: they grow where the poles move (J. Laroche, On the stability
// of time-varying recursive filters, J. Audio Eng. Soc. 55, 2007). A sine of full scale goes in.
MovedRuns moved_beside_direct(const FilterModel& model, double oscillator_hz, double depth_oct,
                              ModulationWave wave, double tone_hz, std::size_t count,
                              double sample_rate_hz);

} // namespace syntonon
