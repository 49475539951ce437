// The study's curves and what channels make of them: each a named step of the history.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QString>
#include <string>

namespace syntonon {

// What a new curve is to the selected channel.
enum class UseAs {
    nothing,
    measured, // its only position
    position  // one more
};

void choose_measured(Session& session, const QString& id); // as the only position; empty: none
// The curve is in hand afterwards.
void add_curve(Session& session, Curve curve, UseAs use);
// Channels that used it keep naming it, and their verdict says so, until another is chosen.
void remove_curve(Session& session, const QString& id);

void rename_curve(Session& session, const std::string& id, const QString& name);
void recolour_curve(Session& session, const std::string& id, const QString& colour);
// As the last position of a channel's set, or out of it.
void assign_curve(Session& session, const std::string& id, int channel, bool assigned);

// Of its power in the channel's set; not negative.
void weigh_position(Session& session, const std::string& id, int channel, double weight);

bool is_position_of(const Channel& channel, const std::string& curve);

} // namespace syntonon
