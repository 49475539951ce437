// Taps for another sample rate.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <span>
#include <vector>

namespace syntonon {

struct ResampledTaps {
    std::vector<double> taps;
    // What rings before the first tap has to be kept: all of it is later by this.
    double later_samples = 0; // at the new rate
};

// The same response at the new rate, up to the lower half rate of the two: the gain is kept, what
// lies above is lost, the numbers are right to about 1e-6 of the greatest (single precision).
// Ends 120 dB under the greatest tap are left out. Refuses rates further apart than 256 to 1, and
// more than most_taps taps.
Expected<ResampledTaps> resampled_taps(std::span<const double> taps, double from_hz, double to_hz);

} // namespace syntonon
