// How far two states of a study are apart, in things that people count.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/study.h"

#include <cstddef>
#include <string>

namespace syntonon {

// Of one kind of thing; matched by id, so that reordering alone is a change of what holds them.
struct CountedChange {
    std::size_t added = 0, removed = 0, changed = 0;

    std::size_t all() const { return added + removed + changed; }
    bool operator==(const CountedChange&) const = default;
};

struct StudyChange {
    // Stages at every depth of the channels' chains; a channel counts as changed by what is its
    // own: name, colour, goal, measured set, takes, order of its stages.
    CountedChange stages, channels, goals, curves, gates, microphones, test_signals, deliveries;
    bool name_or_rate = false;

    bool operator==(const StudyChange&) const = default;
};

StudyChange change_between(const Study& before, const Study& after);

// "2 stages changed, 1 goal added"; "nothing" without a change.
std::string to_text(const StudyChange& change);

} // namespace syntonon
