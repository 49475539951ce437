// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/transfer_text.h"

#include "core/base/number_text.h"
#include "core/filter/form.h"
#include "core/math/polynomial_zeros.h"

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <fmt/format.h>
#include <utility>
#include <vector>

namespace syntonon {
namespace {

using Complex = std::complex<double>;
using Row = std::vector<double>;

constexpr std::size_t most_multiplied_out = 200;

// Signs, products and powers as each dialect writes them.
class Pen {
public:
    Pen(TransferDialect dialect, Domain domain) : dialect_(dialect), domain_(domain) {}

    bool is_plain() const { return dialect_ == TransferDialect::plain; }
    bool is_tex() const { return dialect_ == TransferDialect::tex; }
    bool is_c() const { return dialect_ == TransferDialect::c || is_c_lines(); }
    bool is_c_lines() const { return dialect_ == TransferDialect::c_lines; }
    bool is_analog() const { return domain_ == Domain::analog; }

    std::string minus() const { return is_plain() ? "−" : "-"; }
    std::string times() const { return is_plain() ? " · " : is_tex() ? "\\," : " * "; }
    // Between factors on lines of their own.
    std::string line() const {
        return is_tex() ? "\n    \\cdot " : is_c() ? "\n    * " : "\n    · ";
    }
    std::string head() const { return is_c() ? "" : is_analog() ? "H(s) = " : "H(z) = "; }

    std::string number(double value) const {
        std::string text = shortest_text(std::abs(value));
        const auto e = text.find('e');
        if (is_tex() && e != std::string::npos) {
            text = fmt::format("{} \\cdot 10^{{{}}}", text.substr(0, e),
                               std::stoi(text.substr(e + 1)));
        }
        return (std::signbit(value) && value != 0 ? minus() : "") + text;
    }

    // z^-k, or s^k.
    std::string power(std::size_t k) const {
        if (is_c()) {
            std::string text = is_analog() ? "s" : "zi";
            for (std::size_t i = 1; i < k; ++i) {
                text += is_analog() ? " * s" : " * zi";
            }
            return text;
        }
        const std::string exponent = fmt::format("{}{}", is_analog() ? "" : "-", k);
        std::string variable = is_analog() ? "s" : "z";
        if (is_analog() && k == 1) {
            return variable;
        }
        return is_tex() ? fmt::format("{}^{{{}}}", variable, exponent)
                        : variable + raised(exponent);
    }

    std::string product(double factor, const std::string& of) const {
        const std::string size = number(std::abs(factor));
        return factor == 1 || factor == -1 ? of
               : is_c()                    ? size + " * " + of
                                           : size + (is_tex() ? "\\," : " ") + of;
    }

    std::string fraction(const std::string& above, const std::string& below) const {
        return is_tex() ? fmt::format("\\frac{{{}}}{{{}}}", above, below)
                        : fmt::format("({}) / ({})", above, below);
    }

private:
    static std::string raised(const std::string& exponent) {
        static constexpr std::array<const char*, 10> digits = {"⁰", "¹", "²", "³", "⁴",
                                                               "⁵", "⁶", "⁷", "⁸", "⁹"};
        std::string text;
        for (const char c : exponent) {
            text += c == '-' ? "⁻" : digits.at(static_cast<std::size_t>(c - '0'));
        }
        return text;
    }

    TransferDialect dialect_;
    Domain domain_;
};

// Terms with their signs between.
class TermSum {
public:
    explicit TermSum(const Pen& pen) : pen_(pen) {}
    void add(double factor, const std::string& term) { // empty term: the number itself
        if (factor == 0) {
            return;
        }
        const bool negative = std::signbit(factor);
        text_ += text_.empty() ? (negative ? pen_.minus() : "")
                               : " " + (negative ? pen_.minus() : "+") + " ";
        text_ +=
            term.empty() ? pen_.number(std::abs(factor)) : pen_.product(std::abs(factor), term);
    }
    std::string text() const { return text_.empty() ? "0" : text_; }

private:
    const Pen& pen_;
    std::string text_;
};

// By powers of 1/z, lowest first, or of s, highest first: what is written first comes first.
std::string polynomial_text(const Row& row, const Pen& pen) {
    TermSum sum(pen);
    for (std::size_t k = 0; k < row.size(); ++k) {
        const std::size_t power = pen.is_analog() ? row.size() - 1 - k : k;
        sum.add(row[k], power == 0 ? "" : pen.power(power));
    }
    return sum.text();
}

std::string fraction_text(const Row& above, const Row& below, const Pen& pen) {
    const bool is_one = below.size() == 1 && below[0] == 1;
    return is_one ? "(" + polynomial_text(above, pen) + ")"
                  : pen.fraction(polynomial_text(above, pen), polynomial_text(below, pen));
}

Row without_zeros_at_end(Row row) {
    while (row.size() > 1 && row.back() == 0) {
        row.pop_back();
    }
    return row;
}
Row without_zeros_in_front(Row row) {
    while (row.size() > 1 && row.front() == 0) {
        row.erase(row.begin());
    }
    return row;
}

Expected<std::string> sections_text(const Filter& filter, const Pen& pen) {
    std::vector<std::string> factors;
    if (pen.is_analog()) {
        const auto cascade = filter.analog_sections();
        if (!cascade) {
            return tl::unexpected(cascade.error());
        }
        for (const AnalogSection& s : cascade->sections) {
            factors.push_back(fraction_text(without_zeros_in_front({s.b2, s.b1, s.b0}),
                                            without_zeros_in_front({s.a2, s.a1, s.a0}), pen));
        }
    } else {
        const auto cascade = filter.sections();
        if (!cascade) {
            return tl::unexpected(cascade.error());
        }
        for (const Biquad& s : cascade->sections) {
            factors.push_back(fraction_text(without_zeros_at_end({s.b0, s.b1, s.b2}),
                                            without_zeros_at_end({1, s.a1, s.a2}), pen));
        }
    }
    std::string text = pen.head();
    for (std::size_t i = 0; i < factors.size(); ++i) {
        text += (i == 0 ? "" : pen.line()) + factors[i];
    }
    return factors.empty() ? text + "1" : text;
}

// "(1 − 0.9 z⁻¹)", a pair's two; "(s + 100)". In C a pair is one real factor.
std::string root_factors(const std::vector<Complex>& roots, const Pen& pen) {
    std::vector<std::string> factors;
    for (const Complex& root : roots) {
        if (root.imag() < 0) {
            continue; // told with its conjugate
        }
        if (root.imag() == 0) {
            factors.push_back("(" + polynomial_text({1, -root.real()}, pen) + ")");
        } else if (pen.is_c()) {
            factors.push_back("(" + polynomial_text({1, -2 * root.real(), std::norm(root)}, pen)
                              + ")");
        } else {
            for (const double im : {root.imag(), -root.imag()}) {
                TermSum value(pen);
                value.add(root.real(), "");
                const std::string complex =
                    fmt::format("({} {} {}j)", value.text(), im < 0 ? pen.minus() : "+",
                                pen.number(std::abs(im)));
                factors.push_back(
                    pen.is_analog()
                        ? fmt::format("({} {} {})", pen.power(1), pen.minus(), complex)
                        : fmt::format("(1 {} {} {})", pen.minus(), complex, pen.power(1)));
            }
        }
    }
    std::string text;
    for (const std::string& factor : factors) {
        text += (text.empty() ? "" : pen.times()) + factor;
    }
    return text;
}

std::string roots_text(const Roots& roots, const Pen& pen) {
    std::string text = pen.head() + pen.number(roots.gain);
    if (roots.delay_samples > 0) {
        text += pen.times() + pen.power(static_cast<std::size_t>(roots.delay_samples));
    }
    std::string above = root_factors(roots.zeros, pen);
    const std::string below = root_factors(roots.poles, pen);
    if (below.empty()) {
        return above.empty() ? text : text + pen.line() + above;
    }
    above = above.empty() ? "1" : above;
    return text + pen.line()
           + (pen.is_tex()
                  ? pen.fraction(above, below)
                  : (above == "1" ? above : "(" + above + ")") + "\n    / (" + below + ")");
}

Expected<Coefficients> multiplied_out_of(const Roots& roots) {
    const auto delay = static_cast<std::size_t>(roots.delay_samples);
    const std::size_t order = std::max(roots.zeros.size() + delay, roots.poles.size());
    if (order > most_multiplied_out) {
        return refuse("", fmt::format("is of order {}: multiplied out it would say little", order),
                      fmt::format("look at its sections or roots; up to order {} it is written out",
                                  most_multiplied_out));
    }
    Coefficients c;
    c.numerator.assign(delay, 0.0);
    const auto row = multiplied_out(roots.gain, roots.zeros);
    c.numerator.insert(c.numerator.end(), row.begin(), row.end());
    c.denominator = multiplied_out(1, roots.poles);
    for (const auto* all : {&c.numerator, &c.denominator}) {
        if (!std::ranges::all_of(*all, [](double v) { return std::isfinite(v); })) {
            return refuse("", "multiplied out it would be beyond what numbers hold",
                          "look at its sections or roots");
        }
    }
    return c;
}

std::string signal_text(const char* name, std::size_t k, const Pen& pen) {
    if (pen.is_c_lines()) {
        return k == 0 ? name : fmt::format("{}{}", name, k);
    }
    return k == 0 ? fmt::format("{}[n]", name) : fmt::format("{}[n{}{}]", name, pen.minus(), k);
}

std::string equation_text(const Coefficients& c, const Pen& pen) {
    const double a0 = c.denominator[0];
    TermSum left(pen), sum(pen);
    left.add(a0, signal_text("y", 0, pen));
    for (std::size_t k = 0; k < c.numerator.size(); ++k) {
        sum.add(c.numerator[k], signal_text("x", k, pen));
    }
    for (std::size_t k = 1; k < c.denominator.size(); ++k) {
        sum.add(-c.denominator[k], signal_text("y", k, pen));
    }
    if (!pen.is_c()) {
        return left.text() + " = " + sum.text();
    }
    const bool is_one = a0 == 1;
    return signal_text("y", 0, pen) + " = "
           + (is_one ? sum.text() : "(" + sum.text() + ") / " + pen.number(a0)) + ";";
}

Expected<std::string> c_lines_text(Coefficients c, const Pen& pen) {
    constexpr std::size_t most_order = 16;
    for (auto* row : {&c.numerator, &c.denominator}) {
        *row = without_zeros_at_end(*row);
        if (row->size() > most_order + 1) {
            return refuse(
                "", fmt::format("is of order {}, for which lines of C grow long", row->size() - 1),
                fmt::format("deliver it as a C++ class, or stay below order {}", most_order + 1));
        }
    }
    std::string held, step;
    const auto remember = [&](const char* name, std::size_t order) {
        for (std::size_t k = 1; k <= order; ++k) {
            held += (held.empty() ? "static double " : ", ") + signal_text(name, k, pen);
        }
        for (std::size_t k = order; k >= 1; --k) {
            step += (step.empty() ? "" : " ") + signal_text(name, k, pen) + " = "
                    + signal_text(name, k - 1, pen) + ";";
        }
    };
    remember("x", c.numerator.size() - 1);
    remember("y", c.denominator.size() - 1);
    return (held.empty() ? "" : held + ";\n") + equation_text(c, pen)
           + (step.empty() ? "" : "\n" + step);
}

} // namespace

Expected<std::string> transfer_text(const Filter& filter, TransferForm form,
                                    TransferDialect dialect, const Coefficients* as_written) {
    const Pen pen(dialect, filter.is_analog() ? Domain::analog : Domain::sampled);
    if (pen.is_c_lines()) {
        form = TransferForm::equation;
    }
    if (form == TransferForm::sections) {
        return sections_text(filter, pen);
    }
    if (form == TransferForm::equation && pen.is_analog()) {
        return refuse("", "an analog filter has no difference equation", "choose another form");
    }
    const bool needs_roots = form == TransferForm::roots || as_written == nullptr;
    if (needs_roots && !filter.roots()) {
        return tl::unexpected(filter.roots().error());
    }
    if (form == TransferForm::roots) {
        return roots_text(*filter.roots(), pen);
    }
    const auto c = as_written != nullptr ? Expected<Coefficients>(*as_written)
                                         : multiplied_out_of(*filter.roots());
    if (!c) {
        return tl::unexpected(c.error());
    }
    if (pen.is_c_lines()) {
        return c_lines_text(*c, pen);
    }
    return form == TransferForm::equation
               ? equation_text(*c, pen)
               : pen.head() + fraction_text(c->numerator, c->denominator, pen);
}

} // namespace syntonon
