// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/corridor_commands.h"

#include "app/model/goal_commands.h"
#include "app/widgets/words.h"

#include <algorithm>
#include <cmath>

namespace syntonon {

void add_corridor_range(Session& session, double from_hz, double to_hz) {
    edit_goal(session, tr("Add a corridor range"), [&](Goal& goal) {
        CorridorRange range{from_hz, to_hz, 2, 2, {}};
        if (!goal.corridor.empty()) {
            range.above_db = goal.corridor.back().above_db;
            range.below_db = goal.corridor.back().below_db;
        }
        goal.corridor.push_back(range);
    });
}

void remove_corridor_range(Session& session, int index) {
    const Goal goal = goal_to_state(session);
    if (index >= 0 && static_cast<std::size_t>(index) < goal.corridor.size()) {
        edit_goal(session, tr("Remove a corridor range"),
                  [&](Goal& g) { g.corridor.erase(g.corridor.begin() + index); });
    }
}

} // namespace syntonon
