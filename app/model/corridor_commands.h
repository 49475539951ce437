// The corridor of the selected channel's goal: each a named step of the history.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QString>

namespace syntonon {

void add_corridor_range(Session& session, double from_hz, double to_hz);
void remove_corridor_range(Session& session, int index);

} // namespace syntonon
