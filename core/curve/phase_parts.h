// A phase as that which the level already says, and what is left.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/curve.h"

#include <vector>

namespace syntonon {

// At each of the curve's points. The minimum phase is that of the one stable filter with a stable
// inverse that has this level; excess is the rest: delays and all-passes, which no filter with a
// stable inverse takes away (A. V. Oppenheim and R. W. Schafer, Discrete-Time Signal Processing,
// 12.1 and 5.6).
struct PhaseParts {
    std::vector<double> minimum_deg, excess_deg; // unwrapped
    std::vector<double> excess_delay_s;          // -d excess / d omega, as group_delay_s
};

// By the cepstrum of the level up to half of `sample_rate_hz`; below the curve it is taken to fall
// as it does at its low end, above it to stay, so that near the ends the parts are only about
// right. Refuses a curve without phase or with fewer than two points, and a rate that is not above
// its frequencies' double.
Expected<PhaseParts> phase_parts(const Curve& curve, double sample_rate_hz);

// The minimum phase alone, of a level at two or more ascending frequencies up to half the rate.
std::vector<double> minimum_phase_deg(std::vector<double> frequency_hz,
                                      std::vector<double> level_db, double sample_rate_hz);

} // namespace syntonon
