// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/recursive/root_factors.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <complex>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr double least_squared = 1e-60; // of a root on the circle, at its own frequency

// At one frequency: x + j y, and its slopes by log_a and turn.
struct FactorValue {
    double x, y, x_by_a, y_by_a, y_by_turn;

    double squared() const { return x * x + y * y; }
};

// What of a factor does not depend on the frequency.
struct FactorConstants {
    double a, damping, damping_by_turn;
    bool is_pair;
};

FactorConstants factor_constants(const RootFactor& factor) {
    FactorConstants k{std::exp(factor.log_a), damping_of(factor), 0, factor.is_pair};
    if (factor.is_pair) {
        k.damping_by_turn = factor.is_pole ? k.damping : 2 * std::cosh(factor.turn);
    } else {
        k.damping = factor.turn < 0 ? -1 : 1; // the side
    }
    return k;
}

template <bool is_pair>
FactorValue factor_value(const FactorConstants& k, const FrequencyGrid& grid, std::size_t i) {
    const double sine = grid.half_sine_squared()[i], cosine = grid.half_cosine_squared()[i];
    if constexpr (!is_pair) {
        const double x = k.a * std::sqrt(cosine);
        return {x, k.damping * std::sqrt(sine), x, 0, 0};
    }
    const double square = k.a * k.a * cosine, y = k.a * grid.sine()[i] / 2;
    return {square - sine, k.damping * y, 2 * square, k.damping * y, k.damping_by_turn * y};
}

// Calls with the factor's value at each point.
template <class Call>
void each_value(const RootFactor& factor, const FrequencyGrid& grid, Call call) {
    const FactorConstants k = factor_constants(factor);
    if (factor.is_pair) {
        for (std::size_t i = 0; i < grid.size(); ++i) {
            call(factor_value<true>(k, grid, i), i);
        }
    } else {
        for (std::size_t i = 0; i < grid.size(); ++i) {
            call(factor_value<false>(k, grid, i), i);
        }
    }
}

// What `value` and the slopes by x and y, which `slopes` says, come to at each point.
template <class Of, class SlopesOf>
void add(const RootFactor& factor, const FrequencyGrid& grid, std::span<double> sum,
         std::span<double> by_log_a, std::span<double> by_turn, Of value, SlopesOf slopes) {
    const double sign = factor.is_pole ? -1 : 1;
    if (!sum.empty()) {
        each_value(factor, grid,
                   [&](const FactorValue& v, std::size_t i) { sum[i] += sign * value(v, i); });
    }
    if (!by_log_a.empty()) {
        each_value(factor, grid, [&](const FactorValue& v, std::size_t i) {
            const auto [by_x, by_y] = slopes(v);
            by_log_a[i] = sign * (by_x * v.x_by_a + by_y * v.y_by_a);
            by_turn[i] = sign * by_y * v.y_by_turn;
        });
    }
}

constexpr double db_of_a_neper = 20 / std::numbers::ln10;

} // namespace

double damping_of(const RootFactor& factor) {
    if (!factor.is_pair) {
        return 0;
    }
    return factor.is_pole ? std::exp(factor.turn) : 2 * std::sinh(factor.turn);
}

double log_image(double hz, double sample_rate_hz) {
    constexpr double highest = 0.4999; // of the rate
    return std::log(std::tan(pi * std::min(hz / sample_rate_hz, highest)));
}

void add_level(const RootFactor& factor, const FrequencyGrid& grid, std::span<double> level_db,
               std::span<double> by_log_a, std::span<double> by_turn) {
    add(
        factor, grid, level_db, by_log_a, by_turn,
        [](const FactorValue& v, std::size_t) {
            return db_of_a_neper / 2 * std::log(std::max(v.squared(), least_squared));
        },
        [](const FactorValue& v) {
            const double by = db_of_a_neper / std::max(v.squared(), least_squared);
            return std::pair(by * v.x, by * v.y);
        });
}

// A logarithm for several at once: their product stays far from the ends of what a double holds.
void add_level(std::span<const RootFactor> factors, const FrequencyGrid& grid,
               std::span<double> level_db) {
    constexpr std::size_t at_once = 4;
    std::vector<double> above(grid.size(), 1.0), below(grid.size(), 1.0);
    for (std::size_t f = 0; f < factors.size(); ++f) {
        auto& product = factors[f].is_pole ? below : above;
        each_value(factors[f], grid, [&](const FactorValue& v, std::size_t i) {
            product[i] *= std::max(v.squared(), least_squared);
        });
        if (f % at_once == at_once - 1 || f + 1 == factors.size()) {
            for (std::size_t i = 0; i < grid.size(); ++i) {
                level_db[i] += db_of_a_neper / 2 * std::log(above[i] / below[i]);
                above[i] = below[i] = 1;
            }
        }
    }
}

void add_phase(const RootFactor& factor, const FrequencyGrid& grid, std::span<double> phase_rad,
               std::span<double> by_log_a, std::span<double> by_turn) {
    const double of_unity = factor.is_pair ? 1 : 0.5; // roots at z = 0, in angles
    add(
        factor, grid, phase_rad, by_log_a, by_turn,
        [&](const FactorValue& v, std::size_t i) {
            return std::atan2(v.y, v.x)
                   - of_unity
                         * rad_per_sample_from_hz(grid.frequency_hz()[i], grid.sample_rate_hz());
        },
        [](const FactorValue& v) {
            const double squared = std::max(v.squared(), least_squared);
            return std::pair(-v.y / squared, v.x / squared);
        });
}

namespace {

constexpr double least_damping = 1e-12;

Complex image_of(Complex z) {
    constexpr double edge = 1e-12; // from z = -1, whose image is infinite
    const Complex above = z + 1.0;
    return (z - 1.0) / (std::abs(above) < edge ? Complex(edge) : above);
}

Complex root_of(Complex s) {
    return (1.0 + s) / (1.0 - s);
}

RootFactor pair_of(bool is_pole, double a, double damping) {
    const double turn =
        is_pole ? std::log(std::max(damping, least_damping)) : std::asinh(damping / 2);
    return {is_pole, true, std::log(a), turn};
}

void add_real(bool is_pole, std::vector<double> images, std::vector<RootFactor>& factors) {
    std::ranges::sort(images, {}, [](double s) { return std::abs(s); });
    constexpr double least = 1e-12; // from z = 1
    for (std::size_t i = 0; i < images.size();) {
        const double a = std::max(std::abs(images[i]), least);
        if (i + 1 < images.size()) {
            const double b = std::max(std::abs(images[i + 1]), least);
            const double damping = (a + b) / std::sqrt(a * b);
            factors.push_back(
                pair_of(is_pole, std::sqrt(a * b), images[i] > 0 ? -damping : damping));
        } else {
            factors.push_back({is_pole, false, std::log(a), images[i] > 0 ? -1.0 : 1.0});
        }
        i += 2;
    }
}

std::vector<Complex> images_of(const std::vector<Complex>& roots) {
    std::vector<Complex> images;
    for (const Complex root : roots) {
        images.push_back(image_of(root));
    }
    return images;
}

// Of the factor as a polynomial of 1/z: its first coefficient.
double lead_of(const RootFactor& factor) {
    const double a = std::exp(factor.log_a);
    return factor.is_pair    ? (1 + a * damping_of(factor) + a * a) / 4
           : factor.turn < 0 ? (a - 1) / 2
                             : (a + 1) / 2;
}

void add_roots(const RootFactor& factor, std::vector<Complex>& roots) {
    const double a = std::exp(factor.log_a), half = damping_of(factor) / 2;
    if (!factor.is_pair) {
        roots.push_back(root_of(factor.turn < 0 ? a : -a));
    } else if (std::abs(half) < 1) {
        const Complex z = root_of(a * Complex(-half, std::sqrt(1 - half * half)));
        roots.push_back(z);
        roots.push_back(std::conj(z));
    } else { // of a quadratic, without cancelling
        const double larger = -a * (half + std::copysign(std::sqrt(half * half - 1), half));
        roots.push_back(root_of(larger));
        roots.push_back(root_of(a * a / larger));
    }
}

} // namespace

void add_images(bool is_pole, std::span<const Complex> images, RootFactors& factors) {
    std::vector<double> inside, outside;
    for (const Complex s : images) {
        if (s.imag() > 0) {
            const double a = std::abs(s);
            factors.all.push_back(pair_of(is_pole, a, -2 * s.real() / a));
        } else if (s.imag() == 0) {
            (s.real() > 0 ? outside : inside).push_back(s.real());
        }
    }
    add_real(is_pole, std::move(inside), factors.all);
    add_real(is_pole, std::move(outside), factors.all);
}

RootFactors factors_of(const Roots& roots) {
    RootFactors made;
    add_images(true, images_of(roots.poles), made);
    add_images(false, images_of(roots.zeros), made);
    double gain = roots.gain;
    for (const RootFactor& factor : made.all) {
        gain *= factor.is_pole ? lead_of(factor) : 1 / lead_of(factor);
    }
    made.gain_db = db_from_ratio(std::abs(gain));
    made.is_inverted = gain < 0;
    return made;
}

Roots roots_of(const RootFactors& factors) {
    Roots roots;
    double gain = (factors.is_inverted ? -1 : 1) * ratio_from_db(factors.gain_db);
    for (const RootFactor& factor : factors.all) {
        add_roots(factor, factor.is_pole ? roots.poles : roots.zeros);
        gain *= factor.is_pole ? 1 / lead_of(factor) : lead_of(factor);
    }
    roots.gain = gain;
    return roots;
}

} // namespace syntonon
