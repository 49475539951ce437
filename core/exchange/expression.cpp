// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/expression.h"

#include "core/base/digits.h"
#include "core/base/number_text.h"

#include <array>
#include <cmath>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

constexpr std::size_t most_formula_bytes = 100'000;

struct Spelling {
    std::string_view text;
    char sign;
};
constexpr std::array spellings = std::to_array<Spelling>(
    {{"−", '-'}, {"–", '-'}, {"·", '*'}, {"×", '*'}, {"⋅", '*'}, {"∕", '/'}, {"\u00A0", ' '}});

constexpr std::array<std::string_view, 11> raised = {"⁰", "¹", "²", "³", "⁴", "⁵",
                                                     "⁶", "⁷", "⁸", "⁹", "⁻"};

bool is_letter(char c) {
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z');
}

// How many bytes of a number stand at the beginning: digits, a point, an exponent.
std::size_t number_length(std::string_view text) {
    std::size_t i = 0;
    while (i < text.size() && (is_digit(text[i]) || text[i] == '.')) {
        ++i;
    }
    if (i < text.size() && (text[i] == 'e' || text[i] == 'E')) {
        std::size_t k = i + 1;
        k += k < text.size() && (text[k] == '-' || text[k] == '+') ? 1 : 0;
        if (k < text.size() && is_digit(text[k])) {
            while (k < text.size() && is_digit(text[k])) {
                ++k;
            }
            i = k;
        }
    }
    return i;
}

class Tokens {
public:
    explicit Tokens(std::string_view text) : text_(text) {}

    tl::expected<std::vector<Token>, Misread> all() {
        while (at_ < text_.size()) {
            if (auto problem = take_one()) {
                return tl::unexpected(std::move(*problem));
            }
        }
        add(TokenKind::end, 0);
        return std::move(tokens_);
    }

private:
    std::string_view rest() const { return text_.substr(at_); }
    Token& add(TokenKind kind, std::size_t length) {
        tokens_.push_back({kind, rest().substr(0, length), 0, 0, at_, length});
        at_ += length;
        return tokens_.back();
    }
    void add_sign(char sign, std::size_t length) { add(TokenKind::sign, length).sign = sign; }

    std::optional<Misread> take_one() {
        const char c = text_[at_];
        constexpr std::string_view signs = "+-*/^()[]{}=,:;";
        if (c == ' ' || c == '\t' || c == '\r') {
            ++at_;
        } else if (c == '\n') {
            add(TokenKind::line_end, 1);
        } else if (is_digit(c) || c == '.') {
            return take_number();
        } else if (is_letter(c)) {
            std::size_t length = 1;
            while (length < rest().size()
                   && (is_letter(rest()[length]) || is_digit(rest()[length]))) {
                ++length;
            }
            add(TokenKind::name, length);
        } else if (signs.find(c) != std::string_view::npos) {
            add_sign(c, 1);
        } else {
            return take_spelling();
        }
        return std::nullopt;
    }

    std::optional<Misread> take_number() {
        const std::size_t length = number_length(rest());
        const auto value = number_from_text(rest().substr(0, length));
        if (!value || !std::isfinite(*value)) {
            return Misread{at_, length,
                           fmt::format("“{}” is not a number", rest().substr(0, length)),
                           "write one like -1.8e-3"};
        }
        add(TokenKind::number, length).number = *value;
        return std::nullopt;
    }

    std::optional<Misread> take_spelling() {
        for (const Spelling& spelling : spellings) {
            if (rest().starts_with(spelling.text)) {
                if (spelling.sign == ' ') {
                    at_ += spelling.text.size();
                } else {
                    add_sign(spelling.sign, spelling.text.size());
                }
                return std::nullopt;
            }
        }
        if (take_raised()) {
            return std::nullopt;
        }
        std::size_t length = 1; // of a whole character
        while (length < rest().size()
               && (static_cast<unsigned char>(rest()[length]) & 0xC0U) == 0x80) {
            ++length;
        }
        return Misread{at_, length,
                       fmt::format("“{}” has no meaning here", rest().substr(0, length)),
                       "leave it out"};
    }

    // "⁻¹" becomes ^ ( - 1 ).
    bool take_raised() {
        const std::size_t from = at_;
        int value = 0, digits = 0;
        bool negative = false;
        for (bool found = true; found && digits < 4;) {
            found = false;
            for (std::size_t d = 0; d < raised.size(); ++d) {
                if (rest().starts_with(raised[d])) {
                    at_ += raised[d].size();
                    negative = negative || d == 10;
                    value = d < 10 ? value * 10 + static_cast<int>(d) : value;
                    digits += d < 10 ? 1 : 0;
                    found = true;
                    break;
                }
            }
        }
        if (at_ == from) {
            return false;
        }
        const std::size_t length = at_ - from;
        const auto put = [&](TokenKind kind, char sign, double number) {
            tokens_.push_back({kind, text_.substr(from, length), sign, number, from, length});
        };
        put(TokenKind::sign, '^', 0);
        put(TokenKind::sign, '(', 0);
        if (negative) {
            put(TokenKind::sign, '-', 0);
        }
        put(TokenKind::number, 0, value);
        put(TokenKind::sign, ')', 0);
        return true;
    }

    std::string_view text_;
    std::size_t at_ = 0;
    std::vector<Token> tokens_;
};

} // namespace

tl::expected<std::vector<Token>, Misread> tokens_of(std::string_view text) {
    if (text.size() > most_formula_bytes) {
        return tl::unexpected(Misread{most_formula_bytes, text.size() - most_formula_bytes,
                                      "is too long a text", "give at most 100000 bytes"});
    }
    return Tokens(text).all();
}

tl::unexpected<Misread> misread(const Token& token, std::string reason, std::string way_out) {
    std::string what = token.kind == TokenKind::end        ? "the text"
                       : token.kind == TokenKind::line_end ? "the line"
                                                           : fmt::format("“{}”", token.text);
    if (token.kind == TokenKind::line_end && reason == "is not expected here") {
        reason = "ends too early";
    }
    return tl::unexpected(
        Misread{token.at, token.length, what + " " + std::move(reason), std::move(way_out)});
}

} // namespace syntonon
