// A chain with all its stages designed: the one place where that is done.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/chain.h"
#include "core/study/design_job.h"

#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace syntonon {

struct DesignedStage {
    Expected<Filter> filter;
    std::function<Working()> working; // empty where the filter is refused
    // The design is not there yet; the filter is the last good one, or refused without one.
    bool is_waiting = false;
    std::shared_ptr<const Brief> brief; // what it was designed with; null: needs nothing
    DesignStore::Result design;         // held, so that the store still finds it; may be null
    std::string note = {};              // see Design
};

struct DesignedChain {
    // What is switched on and could be designed. A stage that waits counts with its last filter.
    Filter filter;
    // By id, at every depth, what is switched off, too.
    std::map<std::string, DesignedStage, std::less<>> stages;
    // Of stages that are switched on, down to theirs: "stages[2].branches[0].stages[1].q".
    std::vector<Problem> problems;
    // Of those that are switched off, or held by one that is.
    std::vector<Problem> problems_of_what_is_off;
    // Whose results are missing. Those of stages that see a waiting one above are known only later.
    std::vector<DesignJob> jobs;
    // The first stage that is switched on and waits, for people; empty: none does.
    std::string waits_for;
};

// A chain's brief, and why parts of it may be missing: stages that need them are then refused, or
// wait.
struct ChainBrief {
    ChainBrief(Brief known) : brief(std::move(known)) {}

    Brief brief; // holds for the first stage; each further one has those before it above it
    std::optional<Problem> no_wished, no_seen;
    bool wished_waits = false; // what the target follows is still being designed
};

// The last good filter of a stage, by its id; nothing when there is none.
using LastFilter = std::function<std::optional<Filter>(const std::string& id)>;

// What is quick is designed at once; of what is not, only what the store has is used, and the rest
// becomes jobs.
DesignedChain design_chain(const Chain& chain, const ChainBrief& brief, DesignStore& store,
                           const LastFilter& last = {});

// What any stage of the chain needs, at every depth; or only those that are switched on.
enum class Counting { all, what_is_on };
Needs needs_of(const Chain& chain, const DesignStore& store, Counting counting);
bool is_quick(const Chain& chain, const DesignStore& store); // all of them are

// The refusal of what needs a design that is not there yet.
Problem being_designed(const std::string& name);

} // namespace syntonon
