// What a goal asks of a classical filter, and the other way round.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/classical.h"
#include "core/goal/resolved_goal.h"

#include <vector>

namespace syntonon {

// Edges and levels from the goal: ranges of its corridor that are closed below and lie at 0 dB, and
// its ripple requirements, are passbands; ranges that are open below and end under 0 dB, and its
// attenuation requirements, are stopbands. Of several the tightest level counts, and the edges that
// are nearest to the transition. Refused where the goal has no passband, or no stopband on the side
// where the band has one; the place is empty.
Expected<Tolerances> tolerances_from(const ResolvedGoal& goal, ClassicalBand band,
                                     const Tolerances& otherwise);

// The passband as a ripple and each stopband as an attenuation, up to the axis' end.
std::vector<RequirementSpec> requirements_of(const Tolerances& tolerances, ClassicalBand band,
                                             const Axis& axis);

} // namespace syntonon
