// Fractions of polynomials in z or s, written as text, with their factors kept.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/expression.h"

#include <complex>
#include <cstddef>
#include <vector>

namespace syntonon {

using WideComplex = std::complex<long double>;

// c[k] v^k, of the first power on that is there.
struct TextPolynomial {
    std::vector<WideComplex> c;
    std::size_t at = 0, length = 0; // in the text

    std::size_t degree() const { return c.size() - 1; }
};

// factor v^power prod(above) / prod(below), what is above and below having two terms and more.
struct TextFraction {
    WideComplex factor = 1;
    int power = 0;
    std::vector<TextPolynomial> above, below;
};

// The algebra of expressions in one variable, z or s; see ExpressionReader. Refuses a division by 0
// and degrees beyond 800 in all.
class FractionAlgebra {
public:
    using Value = TextFraction;

    char variable() const { return variable_; } // 0: none was met

    TextFraction number(double value) const { return {WideComplex(value), 0, {}, {}}; }
    template <class Reader>
    Reading<TextFraction> name(Reader& reader) {
        const Token at = reader.token();
        reader.advance();
        return named(at);
    }
    Reading<TextFraction> add(const TextFraction& a, const TextFraction& b, const Token& at) const;
    Reading<TextFraction> subtract(const TextFraction& a, TextFraction b, const Token& at) const;
    Reading<TextFraction> multiply(const TextFraction& a, const TextFraction& b,
                                   const Token& at) const;
    Reading<TextFraction> divide(const TextFraction& a, const TextFraction& b,
                                 const Token& at) const;
    Reading<TextFraction> power(const TextFraction& a, int exponent, const Token& at) const;

private:
    Reading<TextFraction> named(const Token& at);

    char variable_ = 0;
};

// b over a, to be factored like what is written as a fraction.
TextFraction fraction_of(const Coefficients& c, const Token& at);

// Refused, at the factor or the end of the text: roots without their conjugates, a filter that
// answers before it is asked, numbers beyond what a double holds.
Reading<ReadTransfer> transfer_of(const TextFraction& fraction, char variable, const Token& end);

} // namespace syntonon
