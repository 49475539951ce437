// The level that a goal asks of a channel: sources looked up, levels anchored.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/briefs.h"

#include <vector>

namespace syntonon {

struct LevelTarget {
    // Refused, with the place within the goal, where the source or a measured curve is missing, the
    // target is the channel's own prediction, or what it follows is still being designed.
    Expected<TargetCurve> level;
    std::vector<DesignJob> jobs = {}; // of what is followed
    bool waits = false;               // for some of them
};

LevelTarget level_target(const Study& study, const Channel& channel, const Goal& goal,
                         Briefs& briefs);

} // namespace syntonon
