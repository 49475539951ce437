// One curve from several.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/curve.h"

#include <span>

namespace syntonon {

struct WeightedCurve {
    const Curve* curve; // has passed check()
    double weight;      // 0 leaves it out
    double delay_s = 0; // taken out of its phase before vectors are added
};

enum class AverageOf {
    // L = 10 lg(sum of w_i 10^(L_i / 10) / sum of w_i), the energy-average level of ISO
    // 16283-1:2014,
    // 3.2, with weights: what all of them together radiate. It has no phase.
    power,
    // Of the levels in dB: no position outweighs the others by being loud. No phase.
    level,
    // Of the complex responses, each earlier by its delay: what they agree on in level and in
    // phase, for timing. What differs between them cancels. The phase is that after the delays.
    vectors,
};

// At every frequency that one of the curves gives. It reaches as far as all of them do: where one
// ends, the average of the others would jump. Of a single curve everything stays, but for its
// delay.
//
// Refuses no curve of any weight, a weight that is negative or not finite ("[2].weight"), curves
// that share no frequencies, and for vectors one without phase ("[2].curve").
Expected<Curve> averaged(std::span<const WeightedCurve> curves, AverageOf of);

} // namespace syntonon
