// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/requirement_commands.h"

#include "app/model/goal_commands.h"
#include "app/widgets/words.h"

#include <algorithm>
#include <limits>
#include <type_traits>

namespace syntonon {

namespace {

template <class T, class... Others>
constexpr bool is_one_of = (std::is_same_v<T, Others> || ...);

// From the lowest to the highest frequency of the ranges that are passbands, or that are not.
void place_in_corridor(bool in_passband, const Corridor& corridor, double& from_hz, double& to_hz) {
    double low = std::numeric_limits<double>::infinity(), high = 0;
    for (const CorridorRange& range : corridor) {
        if (range.below_db.has_value() == in_passband) {
            low = std::min(low, range.from_hz);
            high = std::max(high, range.to_hz);
        }
    }
    if (low < high) {
        from_hz = low;
        to_hz = high;
    }
}

// Where the corridor says which frequencies pass, those are meant.
RequirementSpec placed(RequirementSpec spec, const Corridor& corridor) {
    std::visit(
        [&]<class Spec>(Spec& s) {
            if constexpr (is_one_of<Spec, RippleRequirement, PhaseRequirement,
                                    GroupDelayRequirement, DelayVariationRequirement,
                                    AttenuationRequirement>) {
                place_in_corridor(!std::is_same_v<Spec, AttenuationRequirement>, corridor,
                                  s.from_hz, s.to_hz);
            }
        },
        spec);
    return spec;
}

} // namespace

void add_requirement(Session& session, const RequirementSpec& spec) {
    const Requirement requirement{placed(spec, goal_to_state(session).corridor)};
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
