// Targets as JSON: a goal's, or those of a stage that is fitted to its own.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/json.h"
#include "core/goal/target.h"
#include "core/study/json_reader.h"

#include <optional>

namespace syntonon {

Target read_target(ObjectReader object);
Json target_json(const Target& target);

// Of phase or delay; nothing where the key is absent, nothing written where there is no line.
std::optional<TargetLine> read_target_line(ObjectReader& owner, const char* key,
                                           const char* value_key);
void write_target_line(Json& owner, const char* key, const char* value_key,
                       const std::optional<TargetLine>& line);

} // namespace syntonon
