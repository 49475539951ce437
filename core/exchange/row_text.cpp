// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/row_text.h"

#include <algorithm>
#include <optional>
#include <string_view>
#include <utility>

namespace syntonon {
namespace {

constexpr std::size_t longest_row = 400;

// "b:", "a =", "b0 =": which row, and which of it.
struct RowName {
    char row = 0;
    std::optional<std::size_t> index;
};
std::optional<RowName> row_name(const Token& token) {
    if (token.kind != TokenKind::name || (token.text[0] != 'a' && token.text[0] != 'b')) {
        return std::nullopt;
    }
    RowName name{token.text[0], {}};
    std::size_t index = 0;
    for (const char c : token.text.substr(1)) {
        if (c < '0' || c > '9' || index > longest_row) {
            return std::nullopt;
        }
        index = index * 10 + static_cast<std::size_t>(c - '0');
    }
    if (token.text.size() > 1) {
        name.index = index;
    }
    return name;
}

// Numbers of a row up to the next name or the end.
class RowsReader {
public:
    explicit RowsReader(const std::vector<Token>& tokens) : tokens_(tokens) {}

    Reading<Coefficients> rows() {
        while (token().kind != TokenKind::end) {
            if (is_blank()) {
                ++next_;
                continue;
            }
            const auto name = row_name(token());
            if (!name) {
                return misread(token(), "is not expected here",
                               "write b: and its numbers, a: and its");
            }
            const Token at = token();
            ++next_;
            if (auto problem = take(*name, at)) {
                return tl::unexpected(std::move(*problem));
            }
        }
        if (rows_.numerator.empty() || rows_.denominator.empty()) {
            return misread(token(), rows_.numerator.empty() ? "has no b" : "has no a",
                           "write both; a of what feeds nothing back is 1");
        }
        return rows_;
    }

private:
    const Token& token() const { return tokens_[next_]; }
    bool is_blank() const {
        constexpr std::string_view blanks = ",;[](){}:=";
        return token().kind == TokenKind::line_end
               || (token().kind == TokenKind::sign
                   && blanks.find(token().sign) != std::string_view::npos);
    }

    std::optional<Misread> take(const RowName& name, const Token& at) {
        auto& row = name.row == 'b' ? rows_.numerator : rows_.denominator;
        if (!name.index && !row.empty()) {
            return misread(at, "is there twice", "keep the one you mean").value();
        }
        std::size_t count = 0;
        while (token().kind != TokenKind::end && !row_name(token())) {
            if (is_blank()) {
                ++next_;
                continue;
            }
            const auto value = number();
            if (!value) {
                return value.error();
            }
            const std::size_t place = name.index ? *name.index + count : row.size();
            row.resize(std::max(row.size(), place + 1), 0);
            row[place] = *value;
            ++count;
            if (row.size() > longest_row) {
                return misread(at, "has too many numbers", "give at most 201").value();
            }
        }
        return count > 0
                   ? std::nullopt
                   : std::optional(misread(at, "has no numbers", "write some behind it").value());
    }

    Reading<double> number() {
        double sign = 1;
        while (token().kind == TokenKind::sign && (token().sign == '-' || token().sign == '+')) {
            sign = token().sign == '-' ? -sign : sign;
            ++next_;
        }
        if (token().kind != TokenKind::number) {
            return misread(token(), "is not a number", "write numbers, parted by blanks or commas");
        }
        return sign * tokens_[next_++].number;
    }

    const std::vector<Token>& tokens_;
    std::size_t next_ = 0;
    Coefficients rows_;
};

} // namespace

bool begins_row(const Token& token) {
    return row_name(token).has_value();
}

Reading<Coefficients> rows_of(const std::vector<Token>& tokens) {
    return RowsReader(tokens).rows();
}

} // namespace syntonon
