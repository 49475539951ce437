// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/polynomial_zeros.h"

#include "core/math/companion_eigenvalues.h"
#include "core/math/multiple_zeros.h"
#include "core/math/polished_zeros.h"
#include "core/math/precise_polynomial.h"
#include "core/math/roots_at_once.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

double greatest_error(const std::vector<double>& product, std::span<const double> c) {
    double largest = 0, greatest = 0;
    for (const double v : c) {
        largest = std::max(largest, std::abs(v));
    }
    for (std::size_t k = 0; k < c.size(); ++k) {
        greatest = std::max(greatest,
                            std::abs(product[k] - c[k]) / (c[k] == 0 ? largest : std::abs(c[k])));
    }
    return greatest;
}

// Each by itself, as the coefficients are rounded.
std::optional<std::vector<Complex>> single_zeros(std::span<const double> c,
                                                 const std::function<bool()>& is_stopped) {
    if (c.size() == 1) {
        return std::vector<Complex>{};
    }
    auto near = companion_eigenvalues(c);
    if (!near) {
        return std::nullopt;
    }
    pair_conjugates(*near);
    return polished_zeros(c, std::move(*near), is_stopped);
}

std::optional<std::vector<Complex>> zeros_without_origin(std::span<const double> c,
                                                         const std::function<bool()>& is_stopped) {
    auto zeros = single_zeros(c, is_stopped);
    if (!zeros || zeros->empty()) {
        return zeros;
    }
    const Precision precision(bits_for(zeros->size()));
    const Tail wanted = monic_tail(c);
    Multiplicities merged = each_once(*zeros);
    merge_multiples(merged, wanted, is_stopped);
    return is_stopped() ? std::nullopt : std::optional(written_out(merged));
}

bool has_zeros(std::span<const double> c) {
    return !c.empty() && c[0] != 0
           && std::ranges::all_of(c, [](double v) { return std::isfinite(v); });
}

std::size_t zeros_at_origin(std::span<const double> c) {
    std::size_t count = 0;
    while (c[c.size() - 1 - count] == 0) {
        ++count;
    }
    return count;
}

// z = 2^exponent u: zeros far from 1 are found as u near 1. Powers of 2 round nothing.
struct NearOne {
    std::vector<double> c;
    int exponent = 0;
};
NearOne near_one(std::span<const double> c) {
    constexpr double near_enough = 1.5; // so that most stay as they are
    const auto degree = static_cast<double>(c.size() - 1);
    const double mean = degree > 0 ? std::log2(std::abs(c.back())) - std::log2(std::abs(c[0])) : 0;
    NearOne scaled{{c.begin(), c.end()}, 0};
    if (std::abs(mean) <= near_enough * degree) {
        return scaled;
    }
    const int exponent = static_cast<int>(std::lround(mean / degree));
    for (std::size_t k = 0; k < c.size(); ++k) {
        scaled.c[k] = std::ldexp(c[k], -static_cast<int>(k) * exponent);
        if (scaled.c[k] != 0 && !std::isnormal(scaled.c[k])) {
            return {{c.begin(), c.end()}, 0};
        }
    }
    scaled.exponent = exponent;
    return scaled;
}

using FoundZeros = std::optional<std::vector<Complex>>;
template <class Find>
FoundZeros found_near_one(std::span<const double> c, Find find) {
    const NearOne scaled = near_one(c);
    FoundZeros zeros = find(scaled.c);
    if (zeros && scaled.exponent != 0) {
        for (Complex& zero : *zeros) {
            zero = {std::ldexp(zero.real(), scaled.exponent),
                    std::ldexp(zero.imag(), scaled.exponent)};
        }
    }
    return zeros;
}

} // namespace

double greatest_zero(std::span<const double> c) {
    constexpr std::size_t most_merged = 32;
    constexpr double infinity = std::numeric_limits<double>::infinity();
    if (!has_zeros(c)) {
        return infinity;
    }
    const auto others = c.first(c.size() - zeros_at_origin(c));
    const auto zeros = found_near_one(others, [](std::span<const double> scaled) {
        return scaled.size() <= most_merged + 1 ? zeros_without_origin(scaled, never_stopped)
                                                : single_zeros(scaled, never_stopped);
    });
    double greatest = zeros ? 0 : infinity;
    for (const Complex& zero : zeros.value_or(std::vector<Complex>())) {
        greatest = std::max(greatest, std::abs(zero));
    }
    return greatest;
}

std::vector<double> multiplied_out(double leading, std::span<const Complex> zeros) {
    const Precision precision(bits_for(zeros.size()));
    std::vector<double> c{leading};
    for (const mpfr::mpreal& v : product_of(each_once(zeros))) {
        c.push_back((v * leading).toDouble());
    }
    return c;
}

std::optional<PolynomialZeros> polynomial_zeros(std::span<const double> c,
                                                const std::function<bool()>& is_stopped) {
    if (!has_zeros(c)) {
        return std::nullopt;
    }
    const std::size_t at_origin = zeros_at_origin(c);
    auto zeros = found_near_one(c.first(c.size() - at_origin), [&](std::span<const double> scaled) {
        return zeros_without_origin(scaled, is_stopped);
    });
    if (!zeros) {
        return std::nullopt;
    }
    zeros->resize(zeros->size() + at_origin, Complex(0, 0));
    PolynomialZeros found{std::move(*zeros), 0};
    found.round_trip = greatest_error(multiplied_out(c[0], found.zeros), c);
    return found;
}

} // namespace syntonon
