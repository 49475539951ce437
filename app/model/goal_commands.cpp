// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/goal_commands.h"

#include "app/widgets/words.h"

#include <algorithm>
#include <cmath>

namespace syntonon {

const Goal* current_goal(const Session& session) {
    return session.channel() != nullptr ? goal_of(session.study(), *session.channel()) : nullptr;
}

Goal proposed_goal(const Session& session) {
    Goal goal;
    if (session.channel() == nullptr) {
        return goal;
    }
    goal.name = session.channel()->name + " goal";
    goal.id = fresh_id(session.study(), goal.name);
    goal.target.points = {{20, 0, {}}, {20000, 0, {}}};
    goal.corridor = {
        CorridorRange{40, std::min(16000.0, session.study().sample_rate_hz * 0.45), 2, 2, {}}};
    return goal;
}

Goal goal_to_state(const Session& session) {
    const Goal* goal = current_goal(session);
    return goal != nullptr ? *goal : proposed_goal(session);
}

namespace {

void make_goal(Session& session, const QString& name, const Goal& goal, const QString& gesture) {
    const auto index = static_cast<std::size_t>(session.selection().channel);
    session.edit(
        name,
        [&](Study& study) {
            study.goals.emplace_back(goal);
            study.channels[index].edit().goal = goal.id;
        },
        gesture);
}

} // namespace

void add_goal(Session& session) {
    if (session.channel() != nullptr) {
        make_goal(session, tr("Add a goal"), proposed_goal(session), {});
    }
}

void choose_goal(Session& session, const QString& id) {
    session.edit_channel(tr("Choose a goal"),
                         [&](Channel& channel) { channel.goal = id.toStdString(); });
}

void edit_goal(Session& session, const QString& name, const std::function<void(Goal&)>& change,
               const QString& gesture) {
    if (const Goal* goal = current_goal(session)) {
        session.edit(
            name,
            [&, id = goal->id](Study& study) {
                const auto found =
                    std::ranges::find_if(study.goals, [&](const auto& g) { return g->id == id; });
                change(found->edit());
            },
            gesture);
    } else if (session.channel() != nullptr) {
        Goal stated = proposed_goal(session);
        change(stated);
        make_goal(session, name, stated, gesture);
    }
}

void rename_goal(Session& session, const QString& name) {
    if (!name.trimmed().isEmpty()) {
        edit_goal(session, tr("Rename the goal to %1").arg(name.trimmed()),
                  [&](Goal& goal) { goal.name = name.trimmed().toStdString(); });
    }
}

void duplicate_goal(Session& session) {
    const Goal* goal = current_goal(session);
    if (goal == nullptr) {
        return;
    }
    Goal copy = *goal;
    copy.name += " copy";
    copy.id = fresh_id(session.study(), copy.name);
    const auto index = static_cast<std::size_t>(session.selection().channel);
    session.edit(tr("Duplicate the goal"), [&](Study& study) {
        study.goals.emplace_back(copy);
        study.channels[index].edit().goal = copy.id;
    });
}

void remove_goal(Session& session) {
    if (const Goal* goal = current_goal(session)) {
        session.edit(tr("Remove the goal %1").arg(QString::fromStdString(goal->name)),
                     [id = goal->id](Study& study) {
                         std::erase_if(study.goals, [&](const auto& g) { return g->id == id; });
                     });
    }
}

} // namespace syntonon
