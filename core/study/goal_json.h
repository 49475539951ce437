// Goals as JSON.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/json.h"
#include "core/goal/goal.h"
#include "core/study/json_reader.h"

namespace syntonon {

Goal read_goal(ObjectReader object);
Json goal_json(const Goal& goal);

} // namespace syntonon
