// What one does to stages: each a named step of the history. Ids are taken by value: the widget
// they come from may show another stage by the time the step is done.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/design/fir.h"

#include <QString>
#include <optional>
#include <string>

namespace syntonon {

// Puts a new stage into the slot, or behind the selected one (or last), and selects it.
void add_stage(Session& session, StageSpec spec, std::optional<Slot> slot = {});
// Several at once, one step of the history.
void add_stages(Session& session, const QString& title, const Chain& stages,
                std::optional<Slot> slot = {});
// The one that takes its place is selected.
void remove_stage(Session& session, std::string id);
void duplicate_stage(Session& session, std::string id);
// The slot counts without the moved stage.
void move_stage(Session& session, std::string id, const Slot& to);
// Up or down within its chain; beyond its ends out of the stage that holds the chain.
void shift_stage(Session& session, std::string id, int by);
// Into the next chain of the stage that holds it; to the right also into the first chain of the
// stage below.
void shift_stage_aside(Session& session, std::string id, int by);
void switch_stage(Session& session, std::string id, bool enabled);
void rename_stage(Session& session, std::string id, const QString& name);
// Appended to the other channel's chain.
void copy_stage_to(Session& session, std::string id, int channel);
// The next or the last one on the rail; the first where none is selected.
void select_neighbour(Session& session, int by);

// What stands for the selected channel's chain: below it, or with a copy of it in a new channel.
enum class FirPlace { here, new_channel };
void add_fir_of_chain(Session& session, FirPlace place, FirPhase phase);

void add_channel(Session& session);
void remove_channel(Session& session, int index);
void rename_channel(Session& session, int index, const QString& name);
void recolour_channel(Session& session, int index, const QString& colour); // empty: by its place

// "Peak 870 Hz": what the history calls a stage.
QString spoken_name(const Stage& stage);

} // namespace syntonon
