// The chains of other channels that requirements hold a channel's against.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/filter/filter.h"

#include <string>
#include <vector>

namespace syntonon {

// How much of a processor a delivery's channels use, where it is least.
struct BudgetUse {
    std::string delivery, processor; // names
    std::string what;                // "cycles", "state memory"
    Expected<double> share;          // refused where a channel of it cannot be counted
};

struct Company {
    struct Member {
        std::string channel; // its id
        Expected<Filter> chain;
    };
    std::vector<Member> members;
    std::vector<BudgetUse> budgets; // of the deliveries with a processor that the channel is in
    std::vector<std::string> ways;  // those of them that are ways of the channel's own crossover
};

} // namespace syntonon
