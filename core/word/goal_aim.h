// What words have to keep to so that a channel's verdict holds.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/goal/prediction.h"
#include "core/goal/resolved_goal.h"
#include "core/word/word_aim.h"

namespace syntonon {

// The plain aim, and the room that corridor, attenuation, level, ripple and greatest gain leave the
// prediction; where it does not meet them already, none, so that words do not make it worse. The
// prediction is of the chain as designed.
WordAim goal_aim(const ResolvedGoal& goal, const Prediction& prediction);

} // namespace syntonon
