// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/elliptic.h"

#include <cmath>
#include <cstddef>
#include <numbers>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr double quarter_turn = std::numbers::pi / 2;
constexpr double as_good_as_0 = 1e-18;

// k -> (k / (1 + k'))^2; the complement without a difference.
EllipticModulus landen(const EllipticModulus& modulus) {
    const double part = modulus.k / (1 + modulus.complement);
    return {part * part, 2 * std::sqrt(modulus.complement) / (1 + modulus.complement)};
}

double arithmetic_geometric_mean(double a, double b) {
    while (std::abs(a - b) > 4e-16 * a) {
        const double mean = (a + b) / 2;
        b = std::sqrt(a * b);
        a = mean;
    }
    return a;
}

double fourth_power(double x) {
    return x * x * x * x;
}

// From the nome; see selectivity_of.
EllipticModulus modulus_with_period_ratio(double ratio) {
    const double nome = std::exp(-std::numbers::pi * ratio);
    EllipticModulus found{4 * std::sqrt(nome), 1};
    for (double odd = nome; odd > as_good_as_0; odd *= nome * nome) {
        const double even = odd * nome;
        found.k *= fourth_power((1 + even) / (1 + odd));
        found.complement *= fourth_power((1 - odd) / (1 + odd));
    }
    return found;
}

} // namespace

EllipticFunctions::EllipticFunctions(const EllipticModulus& modulus) : modulus_(modulus) {
    for (EllipticModulus next = landen(modulus);; next = landen(next)) {
        descending_.push_back(next);
        if (next.k < as_good_as_0) {
            return;
        }
    }
}

// From the circular function, which it is for k = 0, upwards: w -> (1 + k) w / (1 + k w^2).
Complex EllipticFunctions::ascended(Complex w) const {
    for (std::size_t i = descending_.size(); i-- > 0;) {
        const double k = descending_[i].k;
        w = (1 + k) * w / (1.0 + k * w * w);
    }
    return w;
}

Complex EllipticFunctions::cd(Complex u) const {
    return ascended(std::cos(u * quarter_turn));
}

Complex EllipticFunctions::sn(Complex u) const {
    return ascended(std::sin(u * quarter_turn));
}

// With w = j x downwards: x -> 2 x / ((1 + k1) (1 + sqrt(1 + k^2 x^2))), at last sin(j v) = j
// sinh(v).
double EllipticFunctions::inverse_sn_imaginary(double x) const {
    double k = modulus_.k;
    for (const EllipticModulus& step : descending_) {
        x = 2 * x / ((1 + step.k) * (1 + std::hypot(1, k * x)));
        k = step.k;
    }
    return std::asinh(x) / quarter_turn;
}

double period_ratio(const EllipticModulus& modulus) {
    return arithmetic_geometric_mean(1, modulus.complement)
           / arithmetic_geometric_mean(1, modulus.k);
}

double quarter_period(const EllipticModulus& modulus) {
    return quarter_turn / arithmetic_geometric_mean(1, modulus.complement);
}

EllipticModulus selectivity_of(int order, const EllipticModulus& discrimination) {
    return modulus_with_period_ratio(period_ratio(discrimination) / order);
}

EllipticModulus discrimination_of(int order, const EllipticModulus& selectivity) {
    return modulus_with_period_ratio(period_ratio(selectivity) * order);
}

} // namespace syntonon
