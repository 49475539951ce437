// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/corridor_commands.h"

#include "app/model/goal_commands.h"
#include "app/widgets/words.h"

#include <algorithm>
#include <cmath>

namespace syntonon {

void add_corridor_range(Session& session) {
    const double end = session.axis().end_hz();
    edit_goal(session, tr("Add a corridor range"), [&](Goal& goal) {
        CorridorRange range{40, 160, 2, 2};
        if (!goal.corridor.empty()) {
            const CorridorRange& last = goal.corridor.back();
            range = {
                std::min(last.to_hz, end / 2), {}, last.above_db, last.below_db, last.absolute};
            range.to_hz = std::min(range.from_hz * 4, end);
        }
        goal.corridor.push_back(range);
    });
}

void add_stopband(Session& session) {
    constexpr double down_db = 40, transition = 1.6;
    const double end = session.axis().end_hz();
    edit_goal(session, tr("Add a stopband"), [&](Goal& goal) {
        double pass_end = end / (2 * transition);
        for (const CorridorRange& range : goal.corridor) {
            pass_end = range.below_db ? range.to_hz : pass_end;
        }
        const double from =
            pass_end * transition < end ? pass_end * transition : (pass_end + end) / 2;
        goal.corridor.push_back({from, end, -down_db, {}, true});
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
