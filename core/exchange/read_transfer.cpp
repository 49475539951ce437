// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/read_transfer.h"

#include "core/exchange/expression.h"
#include "core/math/polynomial_zeros.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;
using Wide = std::complex<long double>;
template <class T>
using Read = tl::expected<T, Misread>;

constexpr std::size_t most_degree = 400;

// c[k] v^k, of the first power on that is there.
struct Polynomial {
    std::vector<Wide> c;
    std::size_t at = 0, length = 0; // in the text

    std::size_t degree() const { return c.size() - 1; }
};

std::vector<Wide> product(const std::vector<Wide>& a, const std::vector<Wide>& b) {
    std::vector<Wide> c(a.size() + b.size() - 1, Wide(0));
    for (std::size_t i = 0; i < a.size(); ++i) {
        for (std::size_t k = 0; k < b.size(); ++k) {
            c[i + k] += a[i] * b[k];
        }
    }
    return c;
}

// factor v^power prod(above) / prod(below), what is above and below having two terms and more.
struct Fraction {
    Wide factor = 1;
    int power = 0;
    std::vector<Polynomial> above, below;

    bool is_number() const { return power == 0 && above.empty() && below.empty(); }
};

// Fractions in one variable, z or s.
class FractionAlgebra {
public:
    using Value = Fraction;

    char variable() const { return variable_; }

    Fraction number(double value) const { return {Wide(value), 0, {}, {}}; }

    template <class Reader>
    Read<Fraction> name(Reader& reader) {
        const Token at = reader.token();
        reader.advance();
        if (at.text == "j" || at.text == "i") {
            return Fraction{Wide(0, 1), 0, {}, {}};
        }
        // zi stands for 1/z in what is written as C.
        const bool is_inverse = at.text == "zi";
        const char name = is_inverse ? 'z' : at.text.size() == 1 ? at.text[0] : '\0';
        if (name != 'z' && name != 's') {
            return misread(at, "is not known here", "write z or s, and j for the imaginary unit");
        }
        if (variable_ != 0 && variable_ != name) {
            return misread(at, fmt::format("stands beside {}", variable_), "use one of them");
        }
        variable_ = name;
        return Fraction{Wide(1), is_inverse ? -1 : 1, {}, {}};
    }

    Read<Fraction> multiply(const Fraction& a, const Fraction& b, const Token& at) const {
        Fraction made = a;
        made.factor *= b.factor;
        made.power += b.power;
        made.above.insert(made.above.end(), b.above.begin(), b.above.end());
        made.below.insert(made.below.end(), b.below.begin(), b.below.end());
        return checked(std::move(made), at);
    }

    Read<Fraction> divide(const Fraction& a, const Fraction& b, const Token& at) const {
        if (b.factor == Wide(0)) {
            return misread(at, "divides by 0", "divide by something else");
        }
        return multiply(a, {Wide(1) / b.factor, -b.power, b.below, b.above}, at);
    }

    Read<Fraction> power(const Fraction& a, int exponent, const Token& at) const {
        const bool turned = exponent < 0;
        if (a.above.empty() && a.below.empty() && a.factor == Wide(1)) {
            Fraction made = a;
            made.power *= exponent;
            return checked(std::move(made), at);
        }
        Read<Fraction> made = number(1);
        for (int i = 0; made && i < std::abs(exponent); ++i) {
            made = turned ? divide(*made, a, at) : multiply(*made, a, at);
        }
        return made;
    }

    Read<Fraction> subtract(const Fraction& a, Fraction b, const Token& at) const {
        b.factor = -b.factor;
        return add(a, b, at);
    }

    Read<Fraction> add(const Fraction& a, const Fraction& b, const Token& at) const {
        if (b.factor == Wide(0)) {
            return a;
        }
        if (a.factor == Wide(0)) {
            return b;
        }
        // Above one another: a.above b.below + b.above a.below, over a.below b.below.
        const int low = std::min(a.power, b.power);
        if (std::abs(a.power - b.power) > static_cast<int>(most_degree)) {
            return misread(at, "adds powers that are too far apart", "write powers up to 400");
        }
        std::vector<Wide> sum = expanded(a, b.below, a.power - low);
        const std::vector<Wide> other = expanded(b, a.below, b.power - low);
        sum.resize(std::max(sum.size(), other.size()), Wide(0));
        for (std::size_t k = 0; k < other.size(); ++k) {
            sum[k] += other[k];
        }
        Fraction made{Wide(1), low, {}, a.below};
        made.below.insert(made.below.end(), b.below.begin(), b.below.end());
        put_above(made, std::move(sum), at);
        return checked(std::move(made), at);
    }

private:
    static std::vector<Wide> expanded(const Fraction& fraction,
                                      const std::vector<Polynomial>& times, int shift) {
        std::vector<Wide> c(static_cast<std::size_t>(shift) + 1, Wide(0));
        c.back() = fraction.factor;
        for (const auto* factors : {&fraction.above, &times}) {
            for (const Polynomial& factor : *factors) {
                c = product(c, factor.c);
            }
        }
        return c;
    }

    // Without the zeros at its ends; a single term is a number and a power.
    static void put_above(Fraction& made, std::vector<Wide> c, const Token& at) {
        while (!c.empty() && c.back() == Wide(0)) {
            c.pop_back();
        }
        std::size_t first = 0;
        while (first < c.size() && c[first] == Wide(0)) {
            ++first;
        }
        c.erase(c.begin(), c.begin() + static_cast<std::ptrdiff_t>(first));
        made.power += static_cast<int>(first);
        if (c.empty()) {
            made = {Wide(0), 0, {}, {}};
        } else if (c.size() == 1) {
            made.factor *= c[0];
        } else {
            made.above.push_back({std::move(c), at.at, at.length});
        }
    }

    static Read<Fraction> checked(Fraction made, const Token& at) {
        std::size_t degree = static_cast<std::size_t>(std::abs(made.power));
        for (const auto* factors : {&made.above, &made.below}) {
            for (const Polynomial& factor : *factors) {
                degree += factor.degree();
            }
        }
        if (degree > 2 * most_degree) {
            return misread(at, "makes the degree too high", "keep it at 200 or below");
        }
        return made;
    }

    char variable_ = 0;
};

bool is_real(const Polynomial& factor) {
    return std::ranges::all_of(factor.c, [](const Wide& c) { return c.imag() == 0; });
}

std::vector<double> highest_first(const Polynomial& factor) {
    std::vector<double> row;
    for (const Wide& c : factor.c) {
        row.push_back(static_cast<double>(c.real()));
    }
    std::ranges::reverse(row);
    return row;
}

// The zeros of factors up to the second degree, and the rest.
struct Factors {
    std::vector<Complex> zeros;
    std::vector<std::vector<double>> more;
};

Read<Factors> added(Factors factors, const Polynomial& factor) {
    const auto& c = factor.c;
    constexpr std::size_t most_searched = 200;
    if (factor.degree() == 1) {
        const Wide zero = -c[0] / c[1];
        factors.zeros.emplace_back(static_cast<double>(zero.real()),
                                   static_cast<double>(zero.imag()));
    } else if (!is_real(factor)) {
        return tl::unexpected(Misread{factor.at, factor.length, "makes a sum that is not real",
                                      "write pairs of conjugates as factors"});
    } else if (factor.degree() == 2) {
        const auto zeros = quadratic_roots(c[2].real(), c[1].real(), c[0].real());
        factors.zeros.insert(factors.zeros.end(), zeros.begin(), zeros.end());
    } else if (factor.degree() <= most_searched) {
        factors.more.push_back(highest_first(factor));
    } else {
        return tl::unexpected(
            Misread{factor.at, factor.length,
                    fmt::format("makes a polynomial of degree {}", factor.degree()),
                    "write it as factors, or up to degree 200"});
    }
    return factors;
}

// Pairs together, the upper one first.
Read<std::vector<Complex>> paired(const std::vector<Complex>& zeros, const Polynomial& first) {
    std::vector<Complex> pairs;
    for (const Complex& zero : zeros) {
        if (std::ranges::count(zeros, zero) != std::ranges::count(zeros, std::conj(zero))) {
            return tl::unexpected(Misread{
                first.at, first.length,
                fmt::format("{} {} {}j has no conjugate beside it, so the filter would not be real",
                            zero.real(), zero.imag() < 0 ? "-" : "+", std::abs(zero.imag())),
                "write both factors of a pair"});
        }
        if (zero.imag() >= 0) {
            pairs.push_back(zero);
        }
        if (zero.imag() > 0) {
            pairs.push_back(std::conj(zero));
        }
    }
    return pairs;
}

Read<Factors> factors_of(const std::vector<Polynomial>& all) {
    Factors factors;
    for (const Polynomial& factor : all) {
        auto more = added(std::move(factors), factor);
        if (!more) {
            return more;
        }
        factors = std::move(*more);
    }
    if (!factors.zeros.empty()) {
        auto pairs = paired(factors.zeros, all.front());
        if (!pairs) {
            return tl::unexpected(pairs.error());
        }
        factors.zeros = std::move(*pairs);
    }
    return factors;
}

// Of 1/z, lowest power first, multiplied out.
std::vector<double> row_of(const std::vector<Polynomial>& factors, long double factor) {
    std::vector<Wide> c{Wide(factor)};
    for (const Polynomial& f : factors) {
        c = product(c, f.c);
    }
    std::vector<double> row;
    for (const Wide& v : c) {
        row.push_back(static_cast<double>(v.real()));
    }
    std::ranges::reverse(row);
    return row;
}

long double leading_of(const std::vector<Polynomial>& factors) {
    Wide leading(1);
    for (const Polynomial& factor : factors) {
        leading *= factor.c.back();
    }
    return leading.real();
}

int degree_of(const std::vector<Polynomial>& factors) {
    std::size_t degree = 0;
    for (const Polynomial& factor : factors) {
        degree += factor.degree();
    }
    return static_cast<int>(degree);
}

bool is_finite(const ReadTransfer& read) {
    const auto finite = [](double v) { return std::isfinite(v); };
    const auto finite_row = [&](const std::vector<double>& row) {
        return std::ranges::all_of(row, finite);
    };
    const auto finite_roots = [&](const std::vector<Complex>& roots) {
        return std::ranges::all_of(
            roots, [&](const Complex& z) { return finite(z.real()) && finite(z.imag()); });
    };
    return finite(read.roots.gain) && finite_roots(read.roots.zeros)
           && finite_roots(read.roots.poles) && std::ranges::all_of(read.more_zeros, finite_row)
           && std::ranges::all_of(read.more_poles, finite_row)
           && finite_row(read.coefficients.numerator) && finite_row(read.coefficients.denominator);
}

Read<ReadTransfer> unchecked_transfer(const Fraction& fraction, char variable, const Token& end) {
    if (fraction.factor.imag() != 0) {
        return misread(end, "gives a gain that is not real", "leave j out, or write pairs");
    }
    auto above = factors_of(fraction.above), below = factors_of(fraction.below);
    if (!above || !below) {
        return tl::unexpected(above ? below.error() : above.error());
    }
    ReadTransfer read;
    read.roots.zeros = std::move(above->zeros);
    read.roots.poles = std::move(below->zeros);
    read.more_zeros = std::move(above->more);
    read.more_poles = std::move(below->more);
    read.roots.gain = static_cast<double>(fraction.factor.real() * leading_of(fraction.above)
                                          / leading_of(fraction.below));
    if (variable == 's') {
        read.roots.domain = Domain::analog;
        auto& at_origin = fraction.power > 0 ? read.roots.zeros : read.roots.poles;
        at_origin.insert(at_origin.end(), static_cast<std::size_t>(std::abs(fraction.power)),
                         Complex(0, 0));
        return read;
    }
    if (fraction.factor == Wide(0)) {
        read.coefficients = {{0}, {1}};
        return read;
    }
    // In powers of z the numerator's degree is counted from the denominator's.
    const int ahead = fraction.power + degree_of(fraction.above) - degree_of(fraction.below);
    if (ahead > 0) {
        return misread(end, fmt::format("answers {} samples before it is asked", ahead),
                       fmt::format("multiply by z^-{}", ahead));
    }
    read.roots.delay_samples = -ahead;
    std::erase(read.roots.zeros, Complex(0, 0));
    std::erase(read.roots.poles, Complex(0, 0));
    read.coefficients.numerator.assign(static_cast<std::size_t>(-ahead), 0.0);
    const auto row = row_of(fraction.above, fraction.factor.real());
    read.coefficients.numerator.insert(read.coefficients.numerator.end(), row.begin(), row.end());
    read.coefficients.denominator = row_of(fraction.below, 1);
    return read;
}

Read<ReadTransfer> transfer_of(const Fraction& fraction, char variable, const Token& end) {
    auto read = unchecked_transfer(fraction, variable, end);
    if (read
        && (!is_finite(*read) || (variable != 's' && read->coefficients.denominator[0] == 0))) {
        return misread(end, "gives numbers that are too large or too small",
                       "scale the coefficients");
    }
    return read;
}

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
    Read<Linear> name(Reader& reader) const {
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
        if (delay < 0 || delay > static_cast<int>(most_degree)) {
            return misread(at, "is too far away", "go back 200 samples at most");
        }
        Linear made;
        auto& row = made.signals[std::string(at.text)];
        row.assign(static_cast<std::size_t>(delay) + 1, 0);
        row.back() = 1;
        return made;
    }

    Read<Linear> add(Linear a, const Linear& b, const Token&) const {
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
    Read<Linear> subtract(const Linear& a, const Linear& b, const Token& at) const {
        return add(a, scaled(b, -1), at);
    }
    Read<Linear> multiply(const Linear& a, const Linear& b, const Token& at) const {
        if (!a.is_number() && !b.is_number()) {
            return misread(at, "multiplies signals: that is no filter", "multiply by numbers");
        }
        return a.is_number() ? scaled(b, a.number) : scaled(a, b.number);
    }
    Read<Linear> divide(const Linear& a, const Linear& b, const Token& at) const {
        if (!b.is_number() || b.number == 0) {
            return misread(at, b.is_number() ? "divides by 0" : "divides by a signal",
                           "divide by a number");
        }
        return scaled(a, 1 / b.number);
    }
    Read<Linear> power(const Linear& a, int exponent, const Token& at) const {
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

// One line of a chain of equations.
struct Equation {
    std::string from, to;
    Coefficients coefficients;
};

std::vector<double> as_doubles(const std::vector<long double>& row, long double sign) {
    std::vector<double> doubles;
    for (const long double c : row) {
        doubles.push_back(static_cast<double>(c * sign));
    }
    return doubles;
}

Read<Equation> equation_of(const Linear& left, const Linear& right, const Token& first) {
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

Read<std::vector<Equation>> equations_of(const std::vector<Token>& tokens) {
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

// Rows as a polynomial fraction, to be factored like what is written as one.
Fraction fraction_of(const Coefficients& c, const Token& at) {
    const auto polynomial = [&](const std::vector<double>& row, int& power) {
        std::vector<Wide> reversed(row.rbegin(), row.rend());
        power = -static_cast<int>(row.size()) + 1;
        while (reversed.size() > 1 && reversed.back() == Wide(0)) {
            reversed.pop_back();
        }
        std::size_t first = 0;
        while (first + 1 < reversed.size() && reversed[first] == Wide(0)) {
            ++first;
        }
        reversed.erase(reversed.begin(), reversed.begin() + static_cast<std::ptrdiff_t>(first));
        power += static_cast<int>(first);
        return Polynomial{std::move(reversed), at.at, at.length};
    };
    int above_power = 0, below_power = 0;
    Polynomial above = polynomial(c.numerator, above_power),
               below = polynomial(c.denominator, below_power);
    Fraction fraction{Wide(1), above_power - below_power, {}, {}};
    if (above.c.size() > 1) {
        fraction.above.push_back(std::move(above));
    } else {
        fraction.factor *= above.c[0];
    }
    if (below.c.size() > 1) {
        fraction.below.push_back(std::move(below));
    } else {
        fraction.factor /= below.c[0];
    }
    return fraction;
}

Read<ReadTransfer> read_equations(const std::vector<Token>& tokens) {
    const auto equations = equations_of(tokens);
    if (!equations) {
        return tl::unexpected(equations.error());
    }
    if (equations->empty()) {
        return misread(tokens.back(), "holds no equation", "write y[n] = …");
    }
    const FractionAlgebra algebra;
    Read<Fraction> all = algebra.number(1);
    for (const Equation& equation : *equations) {
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
        if (c < '0' || c > '9' || index > most_degree) {
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
    RowsReader(const std::vector<Token>& tokens) : tokens_(tokens) {}

    Read<Coefficients> rows() {
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
            if (row.size() > most_degree) {
                return misread(at, "has too many numbers", "give at most 201").value();
            }
        }
        return count > 0
                   ? std::nullopt
                   : std::optional(misread(at, "has no numbers", "write some behind it").value());
    }

    Read<double> number() {
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

Read<ReadTransfer> read_rows(const std::vector<Token>& tokens, FeedbackSign sign) {
    auto rows = RowsReader(tokens).rows();
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

Read<ReadTransfer> read_fraction(const std::vector<Token>& tokens) {
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
    return row_name(*first) ? read_rows(*tokens, sign) : read_fraction(*tokens);
}

} // namespace syntonon
