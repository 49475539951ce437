// The corridor of the selected channel's goal: each a named step of the history.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QString>

namespace syntonon {

// Behind the last range, with its edges.
void add_corridor_range(Session& session);
// An absolute ceiling from above the passbands to the end of the axis.
void add_stopband(Session& session);
void remove_corridor_range(Session& session, int index);

} // namespace syntonon
