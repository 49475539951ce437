// The chains of other channels that requirements hold a channel's against.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/filter/filter.h"

#include <string>
#include <vector>

namespace syntonon {

struct Company {
    struct Member {
        std::string channel; // its id
        Expected<Filter> chain;
    };
    std::vector<Member> members;
    std::vector<std::string> ways; // those of them that are ways of the channel's own crossover
};

} // namespace syntonon
