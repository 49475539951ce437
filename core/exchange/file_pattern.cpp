// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/file_pattern.h"

#include "core/exchange/coefficient_writers.h"

#include <algorithm>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr std::size_t longest_stem = 180; // file systems take 255 bytes, endings included

bool is_plain(char c) {
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '-'
           || c == '_' || c == '.';
}

std::string names_in(PatternValues values) {
    std::string text;
    for (const auto& [name, value] : values) {
        text += fmt::format("{}{{{}}}", text.empty() ? "" : ", ", name);
    }
    return text;
}

} // namespace

Expected<std::string> file_stem(std::string_view pattern, PatternValues values) {
    std::string stem;
    for (std::string_view rest = pattern.empty() ? usual_file_pattern : pattern; !rest.empty();) {
        if (rest.front() != '{') {
            if (!is_plain(rest.front())) {
                return refuse("file_pattern",
                              fmt::format("“{}” does not belong in a file's name", rest.front()),
                              "use letters, digits, - _ . and names in braces");
            }
            stem += rest.front();
            rest.remove_prefix(1);
            continue;
        }
        const auto end = rest.find('}');
        const std::string_view name = rest.substr(1, end == std::string_view::npos ? end : end - 1);
        const auto known =
            std::ranges::find_if(values, [&](const auto& each) { return each.first == name; });
        if (end == std::string_view::npos || known == values.end()) {
            return refuse("file_pattern", fmt::format("{{{} is not known", name),
                          "use " + names_in(values));
        }
        stem += slug(known->second, '-');
        rest.remove_prefix(end + 1);
    }
    if (stem.starts_with('.') || stem.starts_with('-')) {
        return refuse("file_pattern", fmt::format("“{}” begins with a mark", stem),
                      "begin with a letter or a digit");
    }
    if (stem.size() > longest_stem) {
        return refuse("file_pattern", fmt::format("names of {} letters are too long", stem.size()),
                      fmt::format("{} at most", longest_stem));
    }
    return stem;
}

} // namespace syntonon
