// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/written/number_pieces.h"

#include "core/base/digits.h"
#include "core/base/number_text.h"

#include <algorithm>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

bool is_between(char c) {
    return std::string_view(" \t\r,|'").find(c) != std::string_view::npos;
}

bool begins_number(std::string_view text) {
    const std::size_t sign = text.starts_with('-') || text.starts_with('+') ? 1 : 0;
    const std::size_t point = text.substr(sign).starts_with('.') ? 1 : 0;
    return text.size() > sign + point && is_digit(text[sign + point]);
}

// "b[0]" is b0: the only names whose brackets are part of them.
std::size_t index_behind(std::string_view code, std::size_t at, std::string& name) {
    if (name.size() != 1 || at >= code.size() || code[at] != '[') {
        return at;
    }
    const auto end = code.find(']', at);
    if (end == std::string_view::npos || end == at + 1 || end > at + 4
        || !std::ranges::all_of(code.substr(at + 1, end - at - 1), is_digit)) {
        return at;
    }
    auto next = end + 1;
    while (next < code.size() && code[next] == ' ') {
        ++next;
    }
    const auto value = code.find_first_not_of(" \t\r\n", next + 1);
    const bool is_array =
        next < code.size() && code[next] == '=' && value < code.size() && code[value] == '{';
    if (!is_array) {
        name += code.substr(at + 1, end - at - 1);
    }
    return end + 1;
}

constexpr std::string_view marks = "=:{}[]();";

} // namespace

std::vector<Piece> pieces_of(std::string_view code) {
    std::vector<Piece> pieces;
    std::size_t line = 1;
    for (std::size_t at = 0; at < code.size();) {
        const char c = code[at];
        if (c == '\n') {
            pieces.push_back({PieceKind::line_end, {}, line++});
            ++at;
        } else if (marks.find(c) != std::string_view::npos) {
            pieces.push_back({PieceKind::mark, std::string(1, c), line});
            ++at;
        } else if (is_between(c)) {
            ++at;
        } else if (c == '"') {
            const auto end = std::min(code.find_first_of("\"\n", at + 1), code.size());
            pieces.push_back(
                {PieceKind::name, std::string(code.substr(at + 1, end - at - 1)), line, true});
            at = end + (end < code.size() && code[end] == '"' ? 1 : 0);
        } else {
            auto end = at + 1;
            while (end < code.size() && code[end] != '\n' && !is_between(code[end])
                   && marks.find(code[end]) == std::string_view::npos) {
                ++end;
            }
            std::string text(code.substr(at, end - at));
            const bool is_number = begins_number(text);
            if (!is_number) {
                text.erase(0, text.starts_with('.') ? 1 : 0);
                end = index_behind(code, end, text);
            }
            pieces.push_back(
                {is_number ? PieceKind::number : PieceKind::name, std::move(text), line});
            at = end;
        }
    }
    pieces.push_back({PieceKind::line_end, {}, line});
    return pieces;
}

Expected<std::string> number_in(const Piece& piece) {
    std::string text = piece.text;
    if (text.starts_with("0x") || text.starts_with("0X")) {
        while (text.size() > 2 && std::string_view("uUlL").find(text.back()) != std::string::npos) {
            text.pop_back();
        }
        if (text.size() > 2 && text.size() <= 18
            && std::ranges::all_of(text.substr(2), is_hexadecimal)) {
            return lower_case(text);
        }
    } else {
        const bool is_float = text.back() == 'f' || text.back() == 'F';
        while (!text.empty() && std::string_view("fFlLuU").find(text.back()) != std::string::npos) {
            text.pop_back();
        }
        if (const auto value = number_from_text(text)) {
            // A float's digits stand for that float, not for the double nearest to them.
            return is_float ? text_with_digits(static_cast<float>(*value), 17) : text;
        }
    }
    return refuse(fmt::format("line {}", piece.line),
                  fmt::format("“{}” is not a number", piece.text), "leave it out");
}

} // namespace syntonon
