// The names of a delivery's files.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <span>
#include <string>
#include <string_view>
#include <utility>

namespace syntonon {

inline constexpr std::string_view usual_file_pattern = "{study}_{channel}_{delivery}";

// What stands in braces: "{channel}" and its value.
using PatternValues = std::span<const std::pair<std::string_view, std::string>>;

// A file's name without its ending. Values are put in lower case, with "-" for all that is no
// letter or digit. Refused, with the place "file_pattern": slashes, control characters and whatever
// else could lead out of the folder or be hard to type, an unknown name in braces, and what is too
// long.
Expected<std::string> file_stem(std::string_view pattern, PatternValues values);

} // namespace syntonon
