// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/requirement_commands.h"

#include "app/model/goal_commands.h"
#include "app/widgets/words.h"

#include <algorithm>
#include <cmath>

namespace syntonon {

void add_requirement(Session& session, const RequirementSpec& spec) {
    const Requirement requirement{spec};
    edit_goal(session,
              tr("Add the requirement %1").arg(QString::fromStdString(title_of(requirement))),
              [&](Goal& goal) { goal.requirements.push_back(requirement); });
}

void remove_requirement(Session& session, int index) {
    const Goal goal = goal_to_state(session);
    if (index >= 0 && static_cast<std::size_t>(index) < goal.requirements.size()) {
        const auto& gone = goal.requirements[static_cast<std::size_t>(index)];
        edit_goal(session,
                  tr("Remove the requirement %1").arg(QString::fromStdString(title_of(gone))),
                  [&](Goal& g) { g.requirements.erase(g.requirements.begin() + index); });
    }
}

} // namespace syntonon
