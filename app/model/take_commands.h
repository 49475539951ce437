// What one does to the takes of the selected channel: each a named step of the history.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QString>

namespace syntonon {

// Freezes the chain as it is; an empty name becomes "take 3".
void freeze_take(Session& session, const QString& name = {});
void rename_take(Session& session, int index, const QString& name);
void show_take(Session& session, int index, bool shown);
void show_only_take(Session& session, int index);
void show_all_takes(Session& session, bool shown);
// The take's stages become the channel's; the take stays.
void restore_take(Session& session, int index);
void remove_take(Session& session, int index);
// Which curve minus which is drawn; nothing: none.
void choose_difference(Session& session, const std::optional<Difference>& difference);

} // namespace syntonon
