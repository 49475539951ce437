// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/read_transfer.h"

#include "core/exchange/equation_text.h"
#include "core/exchange/fraction_text.h"
#include "core/exchange/row_text.h"
#include "core/math/polynomial_zeros.h"

#include <algorithm>
#include <iterator>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

Reading<ReadTransfer> read_equations(const std::vector<Token>& tokens) {
    const auto equations = equations_of(tokens);
    if (!equations) {
        return tl::unexpected(equations.error());
    }
    if (equations->empty()) {
        return misread(tokens.back(), "holds no equation", "write y[n] = …");
    }
    const FractionAlgebra algebra;
    Reading<TextFraction> all = algebra.number(1);
    for (const TextEquation& equation : *equations) {
        all = algebra.multiply(*all, fraction_of(equation.coefficients, tokens[0]), tokens[0]);
        if (!all) {
            return tl::unexpected(all.error());
        }
    }
    auto read = transfer_of(*all, 'z', tokens.back());
    if (read && equations->size() == 1) {
        read->coefficients = equations->front().coefficients;
    }
    return read;
}

Reading<ReadTransfer> read_rows(const std::vector<Token>& tokens, FeedbackSign sign) {
    auto rows = rows_of(tokens);
    if (!rows) {
        return tl::unexpected(rows.error());
    }
    if (sign == FeedbackSign::added) {
        for (std::size_t k = 1; k < rows->denominator.size(); ++k) {
            rows->denominator[k] = -rows->denominator[k];
        }
    }
    if (rows->denominator[0] == 0) {
        return misread(tokens.back(), "has a0 = 0: y[n] itself would not be in the equation",
                       "leave the leading zeros of a out");
    }
    auto read = transfer_of(fraction_of(*rows, tokens.back()), 'z', tokens.back());
    if (read) {
        read->coefficients = *rows;
    }
    return read;
}

// Behind "H(z) =" or "H =", where that is there.
std::size_t after_head(const std::vector<Token>& tokens) {
    const auto is_sign = [&](std::size_t i, char sign) {
        return i < tokens.size() && tokens[i].kind == TokenKind::sign && tokens[i].sign == sign;
    };
    std::size_t next = 0;
    while (tokens[next].kind == TokenKind::line_end) {
        ++next;
    }
    if (tokens[next].kind != TokenKind::name || tokens[next].text.size() != 1) {
        return 0;
    }
    ++next;
    next += is_sign(next, '(') && is_sign(next + 2, ')') ? 3 : 0;
    return is_sign(next, '=') ? next + 1 : 0;
}

Reading<ReadTransfer> read_fraction(const std::vector<Token>& tokens) {
    FractionAlgebra algebra;
    ExpressionReader<FractionAlgebra> reader(algebra, tokens, after_head(tokens));
    const auto value = reader.sum();
    if (!value) {
        return tl::unexpected(value.error());
    }
    while (reader.token().kind == TokenKind::line_end || reader.is_sign(';')) {
        reader.advance();
    }
    if (reader.token().kind != TokenKind::end) {
        return misread(reader.token(), "is not expected here", "leave it out");
    }
    return transfer_of(*value, algebra.variable(), reader.token());
}

bool has_signals(const std::vector<Token>& tokens) {
    return std::ranges::any_of(
        tokens, [](const Token& t) { return t.kind == TokenKind::name && t.text == "n"; });
}

} // namespace

Expected<Roots> all_roots(const ReadTransfer& read) {
    Roots roots = read.roots;
    for (const auto& [from, to] :
         {std::pair{&read.more_zeros, &roots.zeros}, {&read.more_poles, &roots.poles}}) {
        for (const auto& row : *from) {
            const auto found = polynomial_zeros(row);
            if (!found) {
                return refuse("", "the zeros of a polynomial were not found",
                              "write it as factors");
            }
            std::ranges::copy_if(found->zeros, std::back_inserter(*to), [&](const Complex& zero) {
                return roots.domain == Domain::analog || zero != 0.0;
            });
        }
    }
    return roots;
}

tl::expected<ReadTransfer, Misread> read_transfer(std::string_view text, FeedbackSign sign) {
    const auto tokens = tokens_of(text);
    if (!tokens) {
        return tl::unexpected(tokens.error());
    }
    const auto first = std::ranges::find_if_not(
        *tokens, [](const Token& t) { return t.kind == TokenKind::line_end; });
    if (first->kind == TokenKind::end) {
        return misread(*first, "is empty", "write H(z) = … or y[n] = …");
    }
    if (has_signals(*tokens)) {
        return read_equations(*tokens);
    }
    return begins_row(*first) ? read_rows(*tokens, sign) : read_fraction(*tokens);
}

} // namespace syntonon
