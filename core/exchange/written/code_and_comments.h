// A text's comments apart from what they comment.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

struct Comment {
    std::size_t line; // from 1
    std::string text;
};

// The text without its comments, line for line, and these by themselves.
struct CodeAndComments {
    std::string code;
    std::vector<Comment> comments;
};

// Comments are what # or // begin, or what stands between /* and */, a line each.
CodeAndComments code_and_comments(std::string_view text);

} // namespace syntonon
