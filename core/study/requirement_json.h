// Requirements in JSON.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/json.h"
#include "core/goal/requirement.h"
#include "core/study/json_reader.h"

namespace syntonon {

// A kind that is not known is read as UnknownRequirement and loses nothing.
Requirement read_requirement(ObjectReader object);
Json requirement_json(const Requirement& requirement);

} // namespace syntonon
