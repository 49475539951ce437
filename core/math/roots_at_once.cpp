// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/roots_at_once.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr int most_rounds = 400;
constexpr double at_rest = 4e-16; // a step against the root's magnitude
// Near a root each step is far shorter than the one before, until rounding is all that is left.
constexpr double nearly_at_rest = 1e-10, progress = 0.5;

bool is_finite(const Complex& z) {
    return std::isfinite(z.real()) && std::isfinite(z.imag());
}

std::vector<Complex> start_on_circle(std::size_t degree, double radius) {
    std::vector<Complex> z(degree);
    for (std::size_t k = 0; k < degree; ++k) {
        // Turned a little, so that no symmetry of a real polynomial holds the steps in its grip.
        const double angle =
            2 * std::numbers::pi * static_cast<double>(k) / static_cast<double>(degree) + 0.4;
        z[k] = std::polar(radius * (1 + 0.1 * std::cos(3.0 * static_cast<double>(k))), angle);
    }
    return z;
}

// p'/p at z by Horner's rule; for |z| > 1 on the turned polynomial, which cannot overflow there.
Complex log_derivative_of(std::span<const double> c, Complex z) {
    const auto degree = static_cast<double>(c.size() - 1);
    const bool inside = std::abs(z) <= 1;
    const Complex x = inside ? z : 1.0 / z;
    Complex value = 0, slope = 0;
    for (std::size_t k = 0; k < c.size(); ++k) {
        slope = slope * x + value;
        value = value * x + (inside ? c[k] : c[c.size() - 1 - k]);
    }
    // p(z) = z^degree q(1/z), so p'/p = (degree - x q'/q) / z.
    return inside ? slope / value : (degree - x * slope / value) * x;
}

} // namespace

std::optional<std::vector<Complex>> roots_at_once(const LogDerivative& log_derivative,
                                                  std::size_t degree, double start_radius,
                                                  std::span<const Complex> near) {
    std::vector<Complex> z = start_on_circle(degree, start_radius);
    std::ranges::copy(near.first(std::min(near.size(), degree)), z.begin());
    std::vector<int> quiet(degree, 0); // rounds in which this root stood still
    std::vector<double> last_step(degree, std::numeric_limits<double>::infinity());
    for (int round = 0; round < most_rounds; ++round) {
        bool moved = false;
        for (std::size_t k = 0; k < degree; ++k) {
            if (quiet[k] >= 2) {
                continue;
            }
            const Complex newton = log_derivative(z[k]);
            if (!is_finite(newton)) {
                quiet[k] = 2; // on the root itself
                continue;
            }
            Complex pull = 0;
            for (std::size_t j = 0; j < degree; ++j) {
                const Complex apart = z[k] - z[j];
                const double square = std::norm(apart);
                pull += square > 0 ? std::conj(apart) / square : 0.0; // 0: itself, or on it
            }
            const Complex step = 1.0 / (newton - pull);
            if (!is_finite(step)) { // the pull is just as strong: from a little aside it is not
                z[k] += Complex(1e-3, 1e-3) * std::max(std::abs(z[k]), start_radius);
                moved = true;
                continue;
            }
            z[k] -= step;
            const double size = std::abs(step), scale = std::max(1.0, std::abs(z[k]));
            const bool still =
                size <= at_rest * scale
                || (size <= nearly_at_rest * scale && size >= progress * last_step[k]);
            last_step[k] = size;
            quiet[k] = still ? quiet[k] + 1 : 0;
            moved = moved || !still;
        }
        // Rounding keeps a crowd of roots trembling for ever; by then they are as good as they get.
        if (!moved || round == most_rounds - 1) {
            return z;
        }
    }
    return z;
}

std::optional<std::vector<Complex>> polynomial_roots(std::span<const double> c) {
    if (c.size() < 2) {
        return std::vector<Complex>{};
    }
    // Trailing zeros are roots at the origin.
    std::size_t at_origin = 0;
    while (at_origin + 1 < c.size() && c[c.size() - 1 - at_origin] == 0) {
        ++at_origin;
    }
    const auto rest = c.first(c.size() - at_origin);
    const double degree = static_cast<double>(rest.size() - 1);
    const double radius = degree > 0 ? std::pow(std::abs(rest.back()), 1 / degree)
                                           / std::pow(std::abs(rest.front()), 1 / degree)
                                     : 1;
    if (!std::isnormal(radius * radius)) { // what is between the roots could not be told
        return std::nullopt;
    }
    auto roots = roots_at_once([&](Complex z) { return log_derivative_of(rest, z); },
                               rest.size() - 1, radius);
    if (!roots || !std::ranges::all_of(*roots, is_finite)) {
        return std::nullopt;
    }
    pair_conjugates(*roots);
    roots->resize(roots->size() + at_origin, Complex(0, 0));
    return roots;
}

void pair_conjugates(std::vector<Complex>& roots) {
    std::vector<Complex> rest = roots;
    roots.clear();
    while (!rest.empty()) {
        const Complex root = rest.back();
        rest.pop_back();
        const auto mate = std::ranges::min_element(
            rest, {}, [&](const Complex& other) { return std::abs(other - std::conj(root)); });
        const double to_mate = mate == rest.end() ? std::numeric_limits<double>::infinity()
                                                  : std::abs(*mate - std::conj(root));
        if (2 * std::abs(root.imag()) <= to_mate) {
            roots.emplace_back(root.real(), 0);
            continue;
        }
        const Complex mean = (root + std::conj(*mate)) / 2.0;
        roots.emplace_back(mean.real(), std::abs(mean.imag()));
        roots.emplace_back(mean.real(), -std::abs(mean.imag()));
        rest.erase(mate);
    }
}

} // namespace syntonon
