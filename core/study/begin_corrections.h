// A study in which every measured channel is about to be corrected.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/fit_stages.h"
#include "core/study/study.h"

#include <vector>

namespace syntonon {

struct BegunCorrections {
    Study study;
    std::vector<FitPlace> places;          // one correction a measured channel, in their order
    bool made_goal = false, added = false; // a goal; corrections
};

// Each sampled channel with a measured set has a correction afterwards (the one that it has
// already, or a new one at its chain's end, whose range lies within what was measured), and a goal:
// its own, else the first of the study's that states a target, else a new one: flat, its level the
// common average of the channels; nothing may rise 6 dB above it in the corrections' range.
BegunCorrections with_corrections(Study study);

} // namespace syntonon
