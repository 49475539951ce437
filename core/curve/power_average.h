// One curve from several: the level of the mean power.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/curve.h"

#include <span>

namespace syntonon {

struct WeightedCurve {
    const Curve* curve; // has passed check()
    double weight;      // of its power; 0 leaves it out
};

// L = 10 lg(sum of w_i 10^(L_i / 10) / sum of w_i), the energy-average level of ISO 16283-1:2014,
// 3.2, with weights, at every frequency that one of the curves gives. It reaches as far as all of
// them do: where one ends, the average of the others would jump. A mean power has no phase; of a
// single curve everything stays.
//
// Refuses no curve of any weight, a weight that is negative or not finite ("[2].weight"), and
// curves that share no frequencies.
Expected<Curve> power_average(std::span<const WeightedCurve> curves);

} // namespace syntonon
