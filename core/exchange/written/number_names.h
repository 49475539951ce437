// What the numbers of a text are called, however it puts that.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

// The last of the words that names something: "b0" to "a200", "gain", "b", "a", "taps", "rate";
// else empty. Single letters name something only where nothing but the name stands there.
std::string known_name(const std::vector<std::string>& words);

// One coefficient or a factor, of those names.
bool is_term(std::string_view name);

// "sample rate 44100 Hz", "fs = 44.1 kHz" in a comment, in Hz.
std::optional<std::string> rate_in(std::string_view comment);

} // namespace syntonon
