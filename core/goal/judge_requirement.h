// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/goal/finding.h"
#include "core/goal/prediction.h"
#include "core/goal/requirement.h"
#include "core/goal/resolved_goal.h"

#include <string>

namespace syntonon {

// Checks one requirement; extremes are found between grid points too. Undecided, with the reason,
// where the requirement contradicts itself or reaches beyond what is known.
// `goal` gives the phase and delay targets.
Finding judge_requirement(const Requirement& requirement, const ResolvedGoal& goal,
                          const Prediction& prediction);

// What it is about.
Quantity quantity_of(const RequirementSpec& spec);

// Why nothing can be said about [from_hz, to_hz], or an empty text: it ends above half the sample
// rate, the measured curve does not reach that far, or
// more ripples lie in it than can be looked at.
std::string obstacle_in(double from_hz, double to_hz, const Prediction& prediction);
// The same where only the ripples of long delays are in the way.
std::string too_fine_in(double from_hz, double to_hz, const Prediction& prediction);

} // namespace syntonon
