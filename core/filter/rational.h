// A filter as one polynomial over another, put together of factors and never expanded.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/filter/roots.h"

#include <complex>
#include <cstddef>
#include <memory>
#include <numbers>
#include <vector>

namespace syntonon {

class Filter;
class PolynomialSum;

// In x = 1/z: gain x^delay prod(1 - root x) prod(sum). Of an analog filter x is analog_unit / s,
// which keeps powers of s within the range of a double; zeros at the origin are then powers of x
// that are missing.
struct PolynomialProduct {
    double gain = 1;
    std::size_t delay = 0;
    std::vector<std::complex<double>> roots; // conjugates written out
    std::vector<std::shared_ptr<const PolynomialSum>> sums;
};
PolynomialProduct product(PolynomialProduct a, const PolynomialProduct& b);

// Products added up, with roots that none of them has: where branches meet, and where a loop
// closes.
class PolynomialSum {
public:
    explicit PolynomialSum(std::vector<PolynomialProduct> terms);

    const std::vector<PolynomialProduct>& terms() const { return terms_; }
    // By powers of x, the first and the last that are there; empty where all cancel.
    const std::vector<double>& coefficients() const { return coefficients_; }
    std::size_t first_power() const { return first_; }
    struct Found {
        std::vector<std::complex<double>> roots;
        double uncertainty = 0; // see Roots
    };
    // Found when first asked for; all at once, the sum being evaluated as it stands. Refused beyond
    // `most_roots_of_a_sum`.
    const Expected<Found>& roots() const;

private:
    struct Kept;
    std::vector<PolynomialProduct> terms_;
    std::vector<double> coefficients_;
    std::size_t first_ = 0;
    std::shared_ptr<Kept> kept_;
};

inline constexpr std::size_t most_roots_of_a_sum = 256;

struct Rational {
    PolynomialProduct numerator, denominator;
};
// Refused where a part is none, or has too many roots. Filters keep theirs, so that a sum's roots
// are found once however many ask: see Filter::rational.
Expected<Rational> rational_of(const Filter& filter);

// By powers of 1/z, as in a0 y[n] + a1 y[n-1] + ... = b0 x[n] + ...
struct Coefficients {
    std::vector<double> numerator, denominator;
};
// With a0 = 1. What is lost in the multiplying out is 0. For reading: of high orders they say less
// than the factors.
Coefficients coefficients_of(const Rational& rational);

// Of the whole; a zero and a pole in one place do nothing and are left out.
Expected<Roots> roots_of(const Rational& rational);
inline constexpr double analog_unit_rad_per_s = 2 * std::numbers::pi * 1000;
Expected<Roots> analog_roots_of(const Rational& rational); // in rad/s

} // namespace syntonon
