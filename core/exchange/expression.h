// Sums, products, fractions and powers as people write them, over any algebra.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/read_transfer.h"

#include <cmath>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

template <class T>
using Reading = tl::expected<T, Misread>;

enum class TokenKind { number, name, sign, line_end, end };

// A part of a text. Signs are ASCII: "−" is '-', "·", "×" and "⋅" are '*'; raised digits are a '^'
// and a number in parentheses.
struct Token {
    TokenKind kind = TokenKind::end;
    std::string_view text;
    char sign = 0;
    double number = 0;
    std::size_t at = 0, length = 0;
};

// Ends with one of kind `end`. Refuses a character that has no place in any formula, and a text of
// more than 100000 bytes.
tl::expected<std::vector<Token>, Misread> tokens_of(std::string_view text);

tl::unexpected<Misread> misread(const Token& token, std::string reason, std::string way_out);

// Reads tokens from `next` on. The algebra has a Value and, each giving Read = expected<Value,
// Misread>: number(double), name(reader), add, subtract, multiply, divide, power(value, int), the
// last five with the token that asks for them. name() takes what belongs to it, as in x[n-1].
template <class Algebra>
class ExpressionReader {
public:
    using Value = typename Algebra::Value;
    using Read = tl::expected<Value, Misread>;

    ExpressionReader(Algebra& algebra, const std::vector<Token>& tokens, std::size_t next = 0)
        : algebra_(algebra), tokens_(tokens), next_(next) {}

    const Token& token() const { return tokens_[next_]; }
    bool is_sign(char sign) const {
        return token().kind == TokenKind::sign && token().sign == sign;
    }
    void advance() {
        if (token().kind != TokenKind::end) {
            ++next_;
        }
    }
    std::size_t next() const { return next_; }
    // Ends of lines count only where the caller says so.
    void skip_line_ends(bool skips) { skips_line_ends_ = skips; }

    Read sum() {
        if (++depth_ > most_deep) {
            return misread(token(), "is nested too deep", "write fewer parentheses");
        }
        Read value = signed_product();
        while (value) {
            pass_line_ends();
            if (!is_sign('+') && !is_sign('-')) {
                break;
            }
            const Token at = token();
            advance();
            Read other = product();
            if (!other) {
                return other;
            }
            value = at.sign == '+' ? algebra_.add(*value, *other, at)
                                   : algebra_.subtract(*value, *other, at);
        }
        --depth_;
        return value;
    }

    // A whole number in brackets of any kind, or bare; for exponents.
    tl::expected<int, Misread> whole_number() {
        const bool braces = is_sign('{'), parentheses = is_sign('(');
        if (braces || parentheses) {
            advance();
        }
        const bool negative = is_sign('-');
        if (negative || is_sign('+')) {
            advance();
        }
        constexpr double most = 1000;
        if (token().kind != TokenKind::number || !(token().number <= most)
            || token().number != std::floor(token().number)) {
            return misread(token(), "is no whole number up to 1000", "write one");
        }
        const int value = static_cast<int>(token().number);
        advance();
        if ((braces && !is_sign('}')) || (parentheses && !is_sign(')'))) {
            return misread(token(), "stands where a bracket should close", "close it");
        }
        if (braces || parentheses) {
            advance();
        }
        return negative ? -value : value;
    }

private:
    static constexpr int most_deep = 100;

    void pass_line_ends() {
        while (skips_line_ends_ && token().kind == TokenKind::line_end) {
            advance();
        }
    }

    Read signed_product() {
        pass_line_ends();
        if (!is_sign('-') && !is_sign('+')) {
            return product();
        }
        const Token at = token();
        advance();
        const Read value = product();
        return value && at.sign == '-' ? algebra_.subtract(algebra_.number(0), *value, at) : value;
    }

    bool starts_factor() const {
        return token().kind == TokenKind::number || token().kind == TokenKind::name || is_sign('(');
    }

    Read product() {
        Read value = factor();
        while (value) {
            pass_line_ends();
            const Token at = token();
            const bool divides = is_sign('/');
            if (divides || is_sign('*')) {
                advance();
            } else if (!starts_factor()) {
                break;
            }
            Read other = factor();
            if (!other) {
                return other;
            }
            value = divides ? algebra_.divide(*value, *other, at)
                            : algebra_.multiply(*value, *other, at);
        }
        return value;
    }

    Read factor() {
        pass_line_ends();
        Read value = atom();
        while (value && is_sign('^')) {
            const Token at = token();
            advance();
            const auto exponent = whole_number();
            if (!exponent) {
                return tl::unexpected(exponent.error());
            }
            value = algebra_.power(*value, *exponent, at);
        }
        return value;
    }

    Read atom() {
        if (token().kind == TokenKind::number) {
            const double value = token().number;
            advance();
            return algebra_.number(value);
        }
        if (token().kind == TokenKind::name) {
            return algebra_.name(*this);
        }
        if (!is_sign('(')) {
            return misread(
                token(), token().kind == TokenKind::end ? "ends too early" : "is not expected here",
                "write a number, a name or a parenthesis");
        }
        advance();
        const bool skipped = skips_line_ends_;
        skips_line_ends_ = true;
        Read value = sum();
        pass_line_ends();
        skips_line_ends_ = skipped;
        if (value && !is_sign(')')) {
            return misread(token(), "stands where a parenthesis should close", "close it with )");
        }
        if (value) {
            advance();
        }
        return value;
    }

    Algebra& algebra_;
    const std::vector<Token>& tokens_;
    std::size_t next_;
    bool skips_line_ends_ = true;
    int depth_ = 0;
};

} // namespace syntonon
