// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/problem.h"

#include <algorithm>
#include <fmt/format.h>
#include <utility>

namespace syntonon {

namespace {

constexpr std::size_t most_of_a_value = 120, most_of_all = 2000;
constexpr std::string_view opening = "“", closing = "”", ellipsis = "…";

bool is_continuation(char c) {
    return (static_cast<unsigned char>(c) & 0xC0U) == 0x80U;
}

// The first `most` characters of UTF-8 text; what is left out is marked.
std::string cut(std::string_view text, std::size_t most) {
    std::size_t characters = 0, end = 0;
    while (end < text.size() && (is_continuation(text[end]) || characters < most)) {
        characters += is_continuation(text[end]) ? 0 : 1;
        ++end;
    }
    return end == text.size() ? std::string(text)
                              : std::string(text.substr(0, end)).append(ellipsis);
}

// C0 and C1 controls, DEL, and the marks that turn the direction of writing.
std::string escaped(std::string_view text) {
    std::string out;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const auto c = static_cast<unsigned char>(text[i]);
        const auto next = static_cast<unsigned char>(i + 1 < text.size() ? text[i + 1] : 0);
        const auto third = static_cast<unsigned char>(i + 2 < text.size() ? text[i + 2] : 0);
        if (c == '\n') {
            out += "\\n";
        } else if (c == '\r') {
            out += "\\r";
        } else if (c == '\t') {
            out += "\\t";
        } else if (c < 0x20 || c == 0x7F) {
            out += fmt::format("\\x{:02x}", c);
        } else if (c == 0xC2 && next >= 0x80 && next < 0xA0) {
            out += fmt::format("\\u{:04x}", next);
            ++i;
        } else if (c == 0xE2 && next == 0x80
                   && ((third >= 0xA8 && third <= 0xAE) || third == 0x8E || third == 0x8F)) {
            out += fmt::format("\\u{:04x}", 0x2000U + (third & 0x3FU));
            i += 2;
        } else {
            out += text[i];
        }
    }
    return out;
}

std::string with_short_quotes(std::string_view text) {
    std::string out;
    while (true) {
        const auto from = text.find(opening);
        if (from == std::string_view::npos) {
            return out.append(text);
        }
        const auto start = from + opening.size();
        const auto end = std::min(text.find(closing, start), text.size());
        out.append(text.substr(0, start))
            .append(cut(text.substr(start, end - start), most_of_a_value));
        text.remove_prefix(end);
    }
}

// "channels[0].a very long key …": each part between points.
std::string with_short_keys(std::string_view place) {
    std::string out;
    while (true) {
        const auto end = std::min(place.find('.'), place.size());
        const std::string_view part = place.substr(0, end);
        // A file's path stays whole: the file's name must always be there.
        const bool is_path = part.find('/') != std::string_view::npos;
        out += is_path ? std::string(part) : cut(part, most_of_a_value);
        if (end == place.size()) {
            return out;
        }
        out += '.';
        place.remove_prefix(end + 1);
    }
}

} // namespace

std::string one_line(std::string_view text) {
    return cut(with_short_quotes(escaped(text)), most_of_all);
}

std::string to_text(const Problem& problem) {
    std::string text = with_short_keys(escaped(problem.place));
    if (!problem.reason.empty()) {
        text += (text.empty() ? "" : ": ") + problem.reason;
    }
    if (!problem.way_out.empty()) {
        text += (text.empty() ? "" : "; ") + problem.way_out;
    }
    return one_line(text);
}

Problem within(std::string_view outer, Problem inner) {
    if (inner.place.empty()) {
        inner.place = outer;
    } else if (!outer.empty()) {
        const std::string_view joint = inner.place.front() == '[' ? "" : ".";
        inner.place = std::string(outer).append(joint).append(inner.place);
    }
    return inner;
}

Problem in_file(std::string_view file, Problem inner) {
    inner.place = inner.place.empty() ? std::string(file) : std::string(file) + ": " + inner.place;
    return inner;
}

tl::unexpected<Problem> refuse(std::string place, std::string reason, std::string way_out) {
    return tl::unexpected(Problem{std::move(place), std::move(reason), std::move(way_out)});
}

} // namespace syntonon
