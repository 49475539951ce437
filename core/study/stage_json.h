// Stages and chains in JSON.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/spec_json.h"

namespace syntonon {

// What stands at one level; whether ids are unique is seen to by who reads a whole tree.
Stage read_stage(ObjectReader object);
Json stage_json(const Stage& stage);

// The list "stages", a tree whose ids have to be unique.
Chain read_stages(ObjectReader& object);

} // namespace syntonon
