// All-passes beside sections whose level is right, until the timing is, too.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/fit/joint_timing.h"

#include <cstddef>
#include <functional>
#include <vector>

namespace syntonon {

using TimedSoFar = std::function<void(const TimedSections&)>;

// The sections with up to `count` all-passes behind them: one after the other where it does most,
// each time all of them refined together with the delay. The sections stay as they are. What does
// not help is left out. `straight` is the timing with phase errors that count so. Stopped by the
// watch, what has been found counts.
TimedSections with_all_passes(const JointSections& levels, const JointTiming& timing,
                              const JointTiming& straight, std::vector<SectionNumbers> sections,
                              std::size_t count, const Watch& watch, const TimedSoFar& so_far = {});

} // namespace syntonon
