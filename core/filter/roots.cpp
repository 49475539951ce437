// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/roots.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

void drop_common_origin(std::vector<Complex>& a, std::vector<Complex>& b) {
    const auto is_zero = [](const Complex& r) { return r == Complex(0, 0); };
    while (true) {
        const auto in_a = std::ranges::find_if(a, is_zero);
        const auto in_b = std::ranges::find_if(b, is_zero);
        if (in_a == a.end() || in_b == b.end()) {
            return;
        }
        a.erase(in_a);
        b.erase(in_b);
    }
}

double leading(double c0, double c1, double c2) {
    return c0 != 0 ? c0 : c1 != 0 ? c1 : c2;
}

void add_points_near(const Complex& root, double low_hz, double high_hz, double grid_ratio,
                     double sample_rate_hz, std::vector<double>& out) {
    const double centre = hz_from_rad_per_sample(std::abs(std::arg(root)), sample_rate_hz);
    if (root.imag() < 0 || root == Complex(0, 0)) {
        return; // The conjugate has the same angle.
    }
    const double spacing = std::max(centre, low_hz) * (grid_ratio - 1);
    const double half_width = hz_from_rad_per_sample(std::abs(1 - std::abs(root)), sample_rate_hz);
    if (half_width > 4 * spacing) {
        return; // The grid resolves this bell by itself.
    }
    const auto add = [&](double f) {
        if (f >= low_hz && f <= high_hz) {
            out.push_back(f);
        }
    };
    add(centre);
    // A root on the circle itself has no width; a thousandth of the grid's spacing draws its dip.
    const double first = std::max(half_width / 2, spacing * 1e-3);
    for (double distance = half_width > 0 ? std::min(first, half_width / 2) : first;
         distance < 2 * spacing; distance *= 2) {
        add(centre - distance);
        add(centre + distance);
    }
}

} // namespace

std::vector<Complex> quadratic_roots(double c0, double c1, double c2) {
    if (c0 == 0) {
        if (c1 == 0) {
            return {};
        }
        return {Complex(-c2 / c1, 0)};
    }
    const double p = c1 / (2 * c0);
    const double q = c2 / c0;
    // fma keeps the digits of p^2 - q when both nearly agree (a double root).
    const double discriminant = std::fma(p, p, -q);
    if (discriminant < 0) {
        const double height = std::sqrt(-discriminant);
        return {Complex(-p, height), Complex(-p, -height)};
    }
    const double far = -p - std::copysign(std::sqrt(discriminant), p);
    const double near = far != 0 ? q / far : 0.0;
    return {Complex(far, 0), Complex(near, 0)};
}

Roots roots_of(const Biquad& s) {
    Roots roots;
    roots.zeros = quadratic_roots(s.b0, s.b1, s.b2);
    roots.poles = quadratic_roots(1.0, s.a1, s.a2);
    roots.gain = leading(s.b0, s.b1, s.b2);
    drop_common_origin(roots.zeros, roots.poles);
    return roots;
}

Roots roots_of(std::span<const Biquad> sections) {
    Roots all;
    for (const Biquad& section : sections) {
        const Roots one = roots_of(section);
        all.zeros.insert(all.zeros.end(), one.zeros.begin(), one.zeros.end());
        all.poles.insert(all.poles.end(), one.poles.begin(), one.poles.end());
        all.gain *= one.gain;
    }
    return all;
}

double stability_margin(const Roots& roots) {
    double largest = 0;
    for (const Complex& pole : roots.poles) {
        largest = std::max(largest, std::abs(pole));
    }
    return 1 - largest;
}

std::vector<double> frequencies_near(const Roots& roots, double low_hz, double high_hz,
                                     double grid_ratio, double sample_rate_hz) {
    std::vector<double> frequencies;
    for (const Complex& root : roots.poles) {
        add_points_near(root, low_hz, high_hz, grid_ratio, sample_rate_hz, frequencies);
    }
    for (const Complex& root : roots.zeros) {
        add_points_near(root, low_hz, high_hz, grid_ratio, sample_rate_hz, frequencies);
    }
    return frequencies;
}

} // namespace syntonon
