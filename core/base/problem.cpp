// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/problem.h"

#include <algorithm>
#include <utility>

namespace syntonon {

std::string to_text(const Problem& problem) {
    std::string text = problem.place;
    if (!problem.reason.empty()) {
        text += (text.empty() ? "" : ": ") + problem.reason;
    }
    if (!problem.way_out.empty()) {
        text += (text.empty() ? "" : "; ") + problem.way_out;
    }
    std::ranges::replace_if(
        text, [](char c) { return c == '\n' || c == '\r'; }, ' ');
    return text;
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
