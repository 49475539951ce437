// What a channel must meet.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/goal/corridor.h"
#include "core/goal/requirement.h"
#include "core/goal/target.h"
#include "core/goal/weights.h"

#include <optional>
#include <string>
#include <vector>

namespace syntonon {

struct Goal {
    std::string id;
    std::string name;
    Target target;
    std::optional<TargetLine> phase_target; // values in degrees, of the chain
    std::optional<TargetLine> delay_target; // values in ms, group delay of the chain
    Corridor corridor;
    Weights weights;
    std::vector<Requirement> requirements;
    UnknownKeys unknown = {};

    bool operator==(const Goal&) const = default;
};

// The place is "target.points[0].frequency_hz" or "corridor[1].to_hz" or "requirements[2].max_db".
Expected<void> check(const Goal& goal);

} // namespace syntonon
