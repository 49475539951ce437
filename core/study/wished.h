// What a goal asks of the level, as a designer is told of it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/brief.h"
#include "core/goal/resolved_goal.h"

namespace syntonon {

// Target, corridor and weights from 0 Hz to the axis' end, cut wherever one of them begins or ends;
// without the target where the goal states none or it has a gap, and without what neither of the
// two speaks of. Where the corridor excludes the target, the target beside it is left out, too, up
// to the next range (a transition), as long as some range holds the target. The goal's level must
// have been worked out if a target is stated.
Wished wished_of(const ResolvedGoal& goal, const Axis& axis);

// The targets of phase and group delay, as dense as is needed; null where neither is stated.
std::shared_ptr<const WishedTiming> wished_timing_of(const ResolvedGoal& goal, const Axis& axis);

// With that alone; nothing wished where the target could not be worked out.
Brief brief_for(const ResolvedGoal& goal, const Axis& axis);

} // namespace syntonon
