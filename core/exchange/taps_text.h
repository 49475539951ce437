// Taps as text: pasted, or from a file.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <filesystem>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

// Numbers parted by blanks, ends of lines, semicolons or commas; # starts a comment. Where no point
// stands anywhere and every line is one number with a comma, the comma is a decimal one. Refuses,
// with the line's number, what is no number, and a text without any.
Expected<std::vector<double>> taps_from_text(std::string_view text);
Expected<std::vector<double>> taps_from_file(const std::filesystem::path& path);

// One a line, with all digits.
std::string taps_text(std::span<const double> taps);

} // namespace syntonon
