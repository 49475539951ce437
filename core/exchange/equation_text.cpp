// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/equation_text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <utility>

namespace syntonon {
namespace {

using Equation = TextEquation;

constexpr int farthest_back = 400;

// x[n-k] and the like, times numbers, added up: by signal, of z^-k.
struct Linear {
    std::map<std::string, std::vector<long double>, std::less<>> signals;
    long double number = 0;

    bool is_number() const { return signals.empty(); }
};

class LinearAlgebra {
public:
    using Value = Linear;

    Linear number(double value) const { return {{}, value}; }

    template <class Reader>
    Reading<Linear> name(Reader& reader) const {
        const Token at = reader.token();
        reader.advance();
        const auto wrong = [&] {
            return misread(reader.token(), "is not expected here", "write signals like x[n-1]");
        };
        const bool bracket = reader.is_sign('[');
        if (!bracket && !reader.is_sign('(')) {
            return wrong();
        }
        reader.advance();
        if (reader.token().kind != TokenKind::name || reader.token().text != "n") {
            return wrong();
        }
        reader.advance();
        int delay = 0;
        if (reader.is_sign('+') || reader.is_sign('-')) {
            const Token sign = reader.token();
            reader.advance();
            const auto samples = reader.whole_number();
            if (!samples) {
                return tl::unexpected(samples.error());
            }
            if (sign.sign == '+' && *samples > 0) {
                return misread(sign, "looks ahead", "write n-1, n-2, …");
            }
            delay = *samples;
        }
        if (!reader.is_sign(bracket ? ']' : ')')) {
            return wrong();
        }
        reader.advance();
        if (delay < 0 || delay > farthest_back) {
            return misread(at, "is too far away", "go back 200 samples at most");
        }
        Linear made;
        auto& row = made.signals[std::string(at.text)];
        row.assign(static_cast<std::size_t>(delay) + 1, 0);
        row.back() = 1;
        return made;
    }

    Reading<Linear> add(Linear a, const Linear& b, const Token&) const {
        for (const auto& [name, row] : b.signals) {
            auto& own = a.signals[name];
            own.resize(std::max(own.size(), row.size()), 0);
            for (std::size_t k = 0; k < row.size(); ++k) {
                own[k] += row[k];
            }
        }
        a.number += b.number;
        return a;
    }
    Reading<Linear> subtract(const Linear& a, const Linear& b, const Token& at) const {
        return add(a, scaled(b, -1), at);
    }
    Reading<Linear> multiply(const Linear& a, const Linear& b, const Token& at) const {
        if (!a.is_number() && !b.is_number()) {
            return misread(at, "multiplies signals: that is no filter", "multiply by numbers");
        }
        return a.is_number() ? scaled(b, a.number) : scaled(a, b.number);
    }
    Reading<Linear> divide(const Linear& a, const Linear& b, const Token& at) const {
        if (!b.is_number() || b.number == 0) {
            return misread(at, b.is_number() ? "divides by 0" : "divides by a signal",
                           "divide by a number");
        }
        return scaled(a, 1 / b.number);
    }
    Reading<Linear> power(const Linear& a, int exponent, const Token& at) const {
        if (!a.is_number()) {
            return misread(at, "raises a signal: that is no filter", "raise numbers only");
        }
        return Linear{{}, std::pow(a.number, static_cast<long double>(exponent))};
    }

private:
    static Linear scaled(Linear value, long double by) {
        value.number *= by;
        for (auto& [name, row] : value.signals) {
            for (long double& c : row) {
                c *= by;
            }
        }
        return value;
    }
};

std::vector<double> as_doubles(const std::vector<long double>& row, long double sign) {
    std::vector<double> doubles;
    for (const long double c : row) {
        doubles.push_back(static_cast<double>(c * sign) + 0.0); // no -0
    }
    return doubles;
}

Reading<Equation> equation_of(const Linear& left, const Linear& right, const Token& first) {
    const LinearAlgebra algebra;
    const Linear all = *algebra.subtract(left, right, first); // 0 = all
    if (all.number != 0) {
        return misread(first, "begins an equation with a number that stands alone",
                       "multiply it by a signal, or leave it out");
    }
    std::string to;
    for (const auto& [name, row] : left.signals) {
        to = row[0] != 0 ? name : to;
    }
    if (to.empty() || !all.signals.contains(to) || all.signals.at(to)[0] == 0) {
        return misread(first, "begins no equation for a signal at n", "write y[n] = …");
    }
    if (all.signals.size() != 2) {
        return misread(first,
                       all.signals.size() < 2 ? "begins an equation without an input"
                                              : "begins an equation with more than one input",
                       "write y[n] out of x and earlier y");
    }
    const auto input =
        std::ranges::find_if(all.signals, [&](const auto& s) { return s.first != to; });
    return Equation{
        input->first, to, {as_doubles(input->second, -1), as_doubles(all.signals.at(to), 1)}};
}

} // namespace

Reading<std::vector<Equation>> equations_of(const std::vector<Token>& tokens) {
    std::vector<Equation> equations;
    LinearAlgebra algebra;
    ExpressionReader<LinearAlgebra> reader(algebra, tokens);
    reader.skip_line_ends(false);
    while (true) {
        while (reader.token().kind == TokenKind::line_end || reader.is_sign(';')) {
            reader.advance();
        }
        if (reader.token().kind == TokenKind::end) {
            return equations;
        }
        const Token first = reader.token();
        const auto left = reader.sum();
        if (!left) {
            return tl::unexpected(left.error());
        }
        if (!reader.is_sign('=')) {
            return misread(reader.token(), "stands where = should", "write y[n] = …");
        }
        reader.advance();
        const auto right = reader.sum();
        if (!right) {
            return tl::unexpected(right.error());
        }
        if (reader.token().kind == TokenKind::sign && !reader.is_sign(';')) {
            return misread(reader.token(), "is not expected here", "end the line");
        }
        auto equation = equation_of(*left, *right, first);
        if (!equation) {
            return tl::unexpected(equation.error());
        }
        if (!equations.empty() && equations.back().to != equation->from) {
            return misread(first,
                           fmt::format("begins a line that is not made of {}, the one above",
                                       equations.back().to),
                           "write each line out of the one above");
        }
        equations.push_back(std::move(*equation));
    }
}

} // namespace syntonon
