// The methods that are tried for a goal, and with what parameters.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/goal/resolved_goal.h"
#include "core/study/stage.h"

#include <functional>
#include <optional>
#include <string>
#include <vector>

namespace syntonon {

struct WayCandidate {
    std::string name; // "Kaiser window", "Elliptic"
    // The same method with other parameters, each for a length in taps.
    std::vector<std::function<StageSpec(int)>> variants = {};
    bool has_length = true; // else the order follows, and the length says nothing
    // Whose length is a good one to begin with; what it refuses no length can do.
    std::optional<StageSpec> estimate = {};
    double part_of_estimate = 1;
    std::optional<int> longest = {}; // taps beyond which more of them are of no use
    bool by_whole_goal = false;      // its delay counts, too, not its level alone
    bool is_even = true;             // what a length can do, those above can, too
    std::string obstacle = {};       // why it cannot be tried at all, with the way out
};

struct WayCandidates {
    std::vector<WayCandidate> all;
    int step = 1; // from one length to the next: 2 where even ones cannot do it
};

// `brief` with what the goal wishes of the level. FIRs are asked for the goal itself; where it has
// neither target nor corridor, for bands after its requirements of ripple and attenuation, so that
// an error counts as it does in those. In continuous time there are only recursive ones.
WayCandidates way_candidates(const ResolvedGoal& goal, const Brief& brief);

} // namespace syntonon
