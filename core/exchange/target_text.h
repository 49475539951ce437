// Targets as text, to be kept outside a study and carried to another.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/goal/target_line.h"

#include <filesystem>
#include <string>
#include <string_view>

namespace syntonon {

// One point a line: "frequency_hz, level_db" and, where it matters, what comes after the point
// ("log", "linear" or "gap"), below a line of titles. Lines that start with # are comments.
//
//     # target: Dome house curve
//     frequency_hz, level_db, after
//     20, 3, log
//     200, 0, gap
//     400, 0
std::string target_text(const TargetLine& line, std::string_view name);

// Reads the above; also two columns without titles, parted by commas, semicolons, tabs or blanks.
// Refuses, with the line's number, what is no point and what makes no line of points.
Expected<TargetLine> target_from_text(std::string_view text);
Expected<TargetLine> target_from_file(const std::filesystem::path& path);

} // namespace syntonon
