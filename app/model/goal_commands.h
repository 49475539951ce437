// What one does to the goal of the selected channel: each a named step of the history.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QString>
#include <functional>

namespace syntonon {

// The goal that the selected channel follows, or null.
const Goal* current_goal(const Session& session);

// What a new goal of the selected channel starts from: a flat target and one corridor range of
// ±2 dB. It is not in the study.
Goal proposed_goal(const Session& session);
// The present goal, or else the proposal, which the first change of it makes the channel's goal.
Goal goal_to_state(const Session& session);
void add_goal(Session& session);
void choose_goal(Session& session, const QString& id); // empty: none
// Without a goal the proposed one is made and changed in one step.
void edit_goal(Session& session, const QString& name, const std::function<void(Goal&)>& change,
               const QString& gesture = {});

void rename_goal(Session& session, const QString& name);
void duplicate_goal(Session& session); // for the selected channel alone
// Channels that followed it keep naming it, and their verdict says so, until another is chosen.
void remove_goal(Session& session);

} // namespace syntonon
