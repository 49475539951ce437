// A design that takes long, to be made beside everything else.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/design_store.h"

#include <string>

namespace syntonon {

struct DesignJob {
    std::string name; // for people: "Zenith: FIR 4096 taps"
    StageSpec spec;
    Brief brief; // only what is needed
};

// Whether they make the same design, whatever they are called.
inline bool make_the_same(const DesignJob& a, const DesignJob& b) {
    return a.spec == b.spec && is_same(a.brief, b.brief);
}

// Makes it now, in this thread; from then on the store has it, unless the watch said stop.
inline DesignStore::Result run(const DesignJob& job, DesignStore& store, const Watch& watch = {}) {
    return store.design(job.spec, job.brief, watch);
}

} // namespace syntonon
