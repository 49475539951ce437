// The requirements of the selected channel's goal: each a named step of the history.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QString>

namespace syntonon {

void add_requirement(Session& session, const RequirementSpec& spec);
void remove_requirement(Session& session, int index);

} // namespace syntonon
