// The checked requirements, each with its margin and worst frequency.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/goal/finding.h"
#include "core/goal/goal.h"
#include "core/goal/prediction.h"
#include "core/goal/resolved_goal.h"

#include <string>
#include <vector>

namespace syntonon {

using Verdict = std::vector<Finding>;

bool is_met(const Verdict& verdict); // all findings are

// Checks the prediction against the goal: a finding for each corridor range and each
// requirement, then stability of the chain, which every channel must have. What contradicts
// something else in the goal and is not met says so.
//
// Between telling frequencies (see Prediction) every extremum of the deviation that could be the
// worst is refined by golden-section search (Kiefer, Proc. AMS 4, 1953) until its level is known
// to 1e-9 dB.
Verdict judge(const ResolvedGoal& goal, const Prediction& prediction);
// For a goal that needs no study to be worked out, or none at all (null).
Verdict judge(const Goal* goal, const Prediction& prediction);

// The verdict of a chain that could not be designed: the same lines, undecided for `why`.
Verdict undecided_verdict(const Goal* goal, const std::string& why);

} // namespace syntonon
