// The weights of the selected channel's goal: each a named step of the history.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QString>

namespace syntonon {

void add_weight_point(Session& session, double hz, double weight);

} // namespace syntonon
