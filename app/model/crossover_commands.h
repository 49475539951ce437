// What one does to a crossover: each a named step of the history, for all of its ways.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/design/crossover.h"
#include "core/study/crossovers.h"

#include <functional>
#include <optional>
#include <string>

namespace syntonon {

// The selected stage, where it is one; null where not.
const CrossoverSpec* selected_crossover(const Session& session);
std::optional<WayPlace> selected_way(const Session& session);

// Settings that all ways share change in all of them. Nothing where none is selected.
void edit_crossover(Session& session, const QString& name,
                    const std::function<void(CrossoverSpec&)>& change);

// The channel (an id) has that way; empty: a new channel with the way's name has it.
void give_way(Session& session, int way, const std::string& channel);
// Those that ways_by_range names have the ways that stand nowhere, in one step.
void give_ways_by_range(Session& session);
void take_way(Session& session, int way);
void set_ways(Session& session, int ways);
void set_height(Session& session, const WayPlace& place, double height_m);
// By what was measured of the ways; why not, where that cannot be.
Expected<void> align_ways(Session& session);

} // namespace syntonon
