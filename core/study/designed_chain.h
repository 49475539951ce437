// A chain with all its stages designed: the one place where that is done.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/chain.h"
#include "core/study/design_store.h"

#include <functional>
#include <map>
#include <string>
#include <vector>

namespace syntonon {

struct DesignedStage {
    Expected<Filter> filter;
    std::function<Working()> working; // empty where the filter is refused
};

struct DesignedChain {
    // What is switched on and could be designed.
    Filter filter;
    // By id, at every depth, what is switched off, too.
    std::map<std::string, DesignedStage, std::less<>> stages;
    // Of stages that are switched on, down to theirs: "stages[2].branches[0].stages[1].q".
    std::vector<Problem> problems;
    // Of those that are switched off, or held by one that is.
    std::vector<Problem> problems_of_what_is_off;
};

// `brief` holds for the first stage; each further one has those before it above it.
DesignedChain design_chain(const Chain& chain, const Brief& brief, DesignStore& store,
                           const Watch& watch = {});

} // namespace syntonon
