// What one does to stages: each a named step of the history.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QString>

namespace syntonon {

// Puts a new stage behind the selected one (or last) and selects it.
void add_stage(Session& session, StageSpec spec);
void remove_stage(Session& session, int index);
void duplicate_stage(Session& session, int index);
// `to` counts in the chain without the moved stage.
void move_stage(Session& session, int from, int to);
void switch_stage(Session& session, int index, bool enabled);
void rename_stage(Session& session, int index, const QString& name);
// Appended to the other channel's chain.
void copy_stage_to(Session& session, int index, int channel);

void add_channel(Session& session);
void remove_channel(Session& session, int index);
void rename_channel(Session& session, int index, const QString& name);

// "Peak 870 Hz": what the history calls a stage.
QString spoken_name(const Stage& stage);

} // namespace syntonon
