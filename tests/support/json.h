// Looking into JSON texts and changing them, by JSON pointer (RFC 6901: "/channels/0/name").
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <string>
#include <vector>

namespace syntonon::test {

// The value there as it is written ("2.5", "\"text\"", "null"), or "absent".
std::string json_at(const std::string& text, const std::string& pointer);
std::size_t json_size(const std::string& text, const std::string& pointer = "");
// The text with another value there.
std::string json_with(const std::string& text, const std::string& pointer,
                      const std::string& value);
// Where the numbers, texts, truth values and empty lists are.
std::vector<std::string> json_leaves(const std::string& text);

} // namespace syntonon::test
