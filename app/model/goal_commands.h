// What one does to the goal of the selected channel: each a named step of the history.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QString>

namespace syntonon {

// The goal that the selected channel follows, or null.
const Goal* current_goal(const Session& session);

// Makes a goal for the selected channel: a flat target and one corridor range of ±2 dB.
void add_goal(Session& session);
void choose_goal(Session& session, const QString& id);     // empty: none
void choose_measured(Session& session, const QString& id); // empty: none
void edit_goal(Session& session, const QString& name, const std::function<void(Goal&)>& change,
               const QString& gesture = {});

// Points stay in order of frequency; a point cannot pass its neighbours.
void add_target_point(Session& session, double hz, double level_db);
void remove_target_point(Session& session, int index);
// Returns the point's level and frequency kept between its neighbours.
TargetPoint held_between_neighbours(const Target& target, int index, double hz, double level_db);

void add_corridor_range(Session& session, double from_hz, double to_hz);
void remove_corridor_range(Session& session, int index);

// Puts a curve into the study and, if wanted, gives it to the selected channel as its measurement.
void add_curve(Session& session, Curve curve, bool use_as_measured);
// Channels that used it keep naming it, and their verdict says so, until another is chosen.
void remove_curve(Session& session, const QString& id);

} // namespace syntonon
