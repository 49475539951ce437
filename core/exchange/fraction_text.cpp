// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/fraction_text.h"

#include "core/filter/roots.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;
using Wide = WideComplex;
using Polynomial = TextPolynomial;
using Fraction = TextFraction;

constexpr std::size_t most_degree = 400;

std::vector<Wide> product(const std::vector<Wide>& a, const std::vector<Wide>& b) {
    std::vector<Wide> c(a.size() + b.size() - 1, Wide(0));
    for (std::size_t i = 0; i < a.size(); ++i) {
        for (std::size_t k = 0; k < b.size(); ++k) {
            c[i + k] += a[i] * b[k];
        }
    }
    return c;
}

std::vector<Wide> expanded(const Fraction& fraction, const std::vector<Polynomial>& times,
                           int shift) {
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
void put_above(Fraction& made, std::vector<Wide> c, const Token& at) {
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

Reading<Fraction> checked(Fraction made, const Token& at) {
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

Reading<Factors> added(Factors factors, const Polynomial& factor) {
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
Reading<std::vector<Complex>> paired(const std::vector<Complex>& zeros, const Polynomial& first) {
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

Reading<Factors> factors_of(const std::vector<Polynomial>& all) {
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

Reading<ReadTransfer> unchecked_transfer(const Fraction& fraction, char variable,
                                         const Token& end) {
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

} // namespace

Reading<Fraction> FractionAlgebra::named(const Token& at) {
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

Reading<Fraction> FractionAlgebra::multiply(const Fraction& a, const Fraction& b,
                                            const Token& at) const {
    Fraction made = a;
    made.factor *= b.factor;
    made.power += b.power;
    made.above.insert(made.above.end(), b.above.begin(), b.above.end());
    made.below.insert(made.below.end(), b.below.begin(), b.below.end());
    return checked(std::move(made), at);
}

Reading<Fraction> FractionAlgebra::divide(const Fraction& a, const Fraction& b,
                                          const Token& at) const {
    if (b.factor == Wide(0)) {
        return misread(at, "divides by 0", "divide by something else");
    }
    return multiply(a, {Wide(1) / b.factor, -b.power, b.below, b.above}, at);
}

Reading<Fraction> FractionAlgebra::power(const Fraction& a, int exponent, const Token& at) const {
    const bool turned = exponent < 0;
    if (a.above.empty() && a.below.empty() && a.factor == Wide(1)) {
        Fraction made = a;
        made.power *= exponent;
        return checked(std::move(made), at);
    }
    Reading<Fraction> made = number(1);
    for (int i = 0; made && i < std::abs(exponent); ++i) {
        made = turned ? divide(*made, a, at) : multiply(*made, a, at);
    }
    return made;
}

Reading<Fraction> FractionAlgebra::subtract(const Fraction& a, Fraction b, const Token& at) const {
    b.factor = -b.factor;
    return add(a, b, at);
}

Reading<Fraction> FractionAlgebra::add(const Fraction& a, const Fraction& b,
                                       const Token& at) const {
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

Reading<ReadTransfer> transfer_of(const Fraction& fraction, char variable, const Token& end) {
    auto read = unchecked_transfer(fraction, variable, end);
    if (read
        && (!is_finite(*read) || (variable != 's' && read->coefficients.denominator[0] == 0))) {
        return misread(end, "gives numbers that are too large or too small",
                       "scale the coefficients");
    }
    return read;
}

} // namespace syntonon
