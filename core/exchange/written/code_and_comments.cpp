// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/written/code_and_comments.h"

#include "core/base/number_text.h"

#include <algorithm>
#include <utility>

namespace syntonon {
namespace {

class CommentCutter {
public:
    explicit CommentCutter(std::string_view text) : text_(text) {}

    CodeAndComments cut() {
        while (at_ < text_.size()) {
            const std::string_view two = text_.substr(at_, 2);
            if (text_[at_] == '\n') {
                put('\n');
            } else if (two == "/*") {
                to_star();
            } else if (two == "//" || text_[at_] == '#') {
                at_ += two == "//" ? 2 : 1;
                to_end_of_line();
            } else {
                put(text_[at_]);
            }
        }
        return std::move(parts_);
    }

private:
    void put(char c) {
        parts_.code += c;
        line_ += c == '\n' ? 1 : 0;
        ++at_;
    }
    void keep(std::string_view comment) {
        while (!comment.empty() && (comment.front() == '*' || comment.front() == ' ')) {
            comment.remove_prefix(1);
        }
        parts_.comments.push_back({line_, std::string(trimmed(comment))});
    }
    void to_end_of_line() {
        const auto end = std::min(text_.find('\n', at_), text_.size());
        keep(text_.substr(at_, end - at_));
        at_ = end;
    }
    void to_star() {
        at_ += 2;
        const auto end = std::min(text_.find("*/", at_), text_.size());
        while (at_ < end) {
            const auto line_end = std::min(text_.find('\n', at_), end);
            keep(text_.substr(at_, line_end - at_));
            at_ = line_end;
            if (at_ < end) {
                put('\n');
            }
        }
        at_ = std::min(end + 2, text_.size());
        parts_.code += ' ';
    }

    std::string_view text_;
    std::size_t at_ = 0, line_ = 1;
    CodeAndComments parts_;
};

} // namespace

CodeAndComments code_and_comments(std::string_view text) {
    return CommentCutter(text).cut();
}

} // namespace syntonon
