// Numbers as base64 text (RFC 4648, section 4), little-endian IEEE 754.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

std::string base64_from_doubles(const std::vector<double>& values);

std::string base64_from_floats(const std::vector<float>& values);

// Nothing when the text is not base64 or not a whole number of doubles.
std::optional<std::vector<double>> doubles_from_base64(std::string_view text);
// The same of numbers in single precision.
std::optional<std::vector<double>> doubles_from_base64_floats(std::string_view text);

} // namespace syntonon
