// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/meeting_powers.h"

#include "core/base/units.h"
#include "core/math/complex_parts.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr std::ptrdiff_t few = 3; // powers below are found as quickly without
constexpr int rounds = 1;         // hardly move them where the powers are high

// What is repeated most often, and how often.
struct Power {
    std::vector<Complex> roots; // of one of it
    std::ptrdiff_t count = 0;

    bool operator==(const Power&) const = default;
};

Complex value_of(const std::vector<PolynomialProduct>& terms, const Complex& x);

Power highest_power_in(const std::vector<Complex>& roots) {
    Power highest;
    for (auto root = roots.begin(); root != roots.end(); ++root) {
        if (std::find(roots.begin(), root, *root) != root) {
            continue; // counted
        }
        const auto count = std::count(root, roots.end(), *root);
        if (count > highest.count) {
            highest = {{}, count};
        }
        if (count == highest.count) {
            highest.roots.push_back(*root);
        }
    }
    return highest;
}

PolynomialProduct without(const Power& power, PolynomialProduct product) {
    std::erase_if(product.roots, [&](const Complex& root) {
        return std::ranges::find(power.roots, root) != power.roots.end();
    });
    return product;
}

Complex value_of(const PolynomialProduct& product, const Complex& x) {
    Complex value = product.gain * power_of(x, product.delay);
    for (const Complex& root : product.roots) {
        value = times(value, 1.0 - times(root, x));
    }
    for (const auto& sum : product.sums) {
        value = times(value, value_of(sum->terms(), x));
    }
    return value;
}

Complex value_of(const std::vector<PolynomialProduct>& terms, const Complex& x) {
    Complex all = 0;
    for (const PolynomialProduct& term : terms) {
        all += value_of(term, x);
    }
    return all;
}

// Two powers and the terms that have them, without them.
class Meeting {
public:
    static std::optional<Meeting> of(std::span<const PolynomialProduct> terms) {
        Meeting met;
        for (const PolynomialProduct& term : terms) {
            const Power power = highest_power_in(term.roots);
            if (power.count >= few && met.a_.count == 0) {
                met.a_ = power;
            }
            const bool has_a = met.a_.count > 0 && power == met.a_;
            (has_a ? met.with_a_ : met.with_b_).push_back(term);
        }
        for (const PolynomialProduct& term : met.with_b_) {
            const Power power = highest_power_in(term.roots);
            if (power.count == met.a_.count) {
                met.b_ = power;
            }
        }
        const bool is_one = met.a_.count > 0 && !met.with_b_.empty() && met.a_.roots.size() <= 2
                            && met.b_.roots.size() <= 2;
        if (!is_one) {
            return std::nullopt;
        }
        for (PolynomialProduct& term : met.with_a_) {
            term = without(met.a_, std::move(term));
        }
        for (PolynomialProduct& term : met.with_b_) {
            term = without(met.b_, std::move(term));
        }
        return met;
    }

    std::vector<Complex> places() const {
        std::vector<Complex> all;
        for (std::ptrdiff_t k = 0; k < a_.count; ++k) {
            for (const Complex& start : where(on_ray(k, 1.0))) {
                Complex z = start;
                for (int i = 0; i < rounds; ++i) {
                    z = nearest(where(on_ray(k, power_at(z))), z);
                }
                all.push_back(z);
            }
        }
        std::erase_if(all, [](const Complex& z) { return !std::isfinite(std::abs(z)); });
        return all;
    }

private:
    // w^n = -B / A
    Complex power_at(const Complex& z) const {
        const Complex x = inverse_of(z);
        return -value_of(with_b_, x) / value_of(with_a_, x);
    }

    Complex on_ray(std::ptrdiff_t k, const Complex& power) const {
        const auto n = static_cast<double>(a_.count);
        return std::polar(std::pow(std::abs(power), 1 / n),
                          (std::arg(power) + 2 * pi * static_cast<double>(k)) / n);
    }

    // z where a / b = w: (1 - w) z^2 - (sum a - w sum b) z + prod a - w prod b = 0.
    std::vector<Complex> where(const Complex& w) const {
        const auto [a1, a2] = coefficients(a_);
        const auto [b1, b2] = coefficients(b_);
        const Complex c0 = 1.0 - w, c1 = a1 - w * b1, c2 = a2 - w * b2;
        if (a_.roots.size() < 2 && b_.roots.size() < 2) {
            return {-c1 / c0};
        }
        const Complex half = -c1 / c0 / 2.0, apart = std::sqrt(half * half - c2 / c0);
        return {half + apart, half - apart};
    }
    static std::pair<Complex, Complex> coefficients(const Power& power) {
        const auto root = [&](std::size_t i) {
            return i < power.roots.size() ? power.roots[i] : Complex(0);
        };
        return {-root(0) - root(1), root(0) * root(1)};
    }
    static Complex nearest(const std::vector<Complex>& places, const Complex& z) {
        return std::ranges::min(places, {},
                                [&](const Complex& place) { return std::abs(place - z); });
    }

    Power a_, b_;
    std::vector<PolynomialProduct> with_a_, with_b_;
};

} // namespace

std::vector<Complex> near_meeting_powers(std::span<const PolynomialProduct> terms) {
    const auto meeting = Meeting::of(terms);
    return meeting ? meeting->places() : std::vector<Complex>{};
}

} // namespace syntonon
