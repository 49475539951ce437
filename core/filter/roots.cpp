// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/roots.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

// Roots of c0 + c1/z + c2/z^2, those at the origin left out, and what stands before them.
void take_roots(double c0, double c1, double c2, std::vector<Complex>& roots, double& leading,
                double& delay) {
    roots = quadratic_roots(c0, c1, c2);
    std::erase(roots, Complex(0, 0));
    leading = c0 != 0 ? c0 : c1 != 0 ? c1 : c2;
    delay = c0 != 0 ? 0 : c1 != 0 || c2 == 0 ? 1 : 2;
}

template <class Real>
std::vector<Complex> roots_of_quadratic(Real c0, Real c1, Real c2) {
    if (c0 == 0) {
        return c1 == 0 ? std::vector<Complex>{}
                       : std::vector<Complex>{Complex(static_cast<double>(-c2 / c1), 0)};
    }
    const Real p = c1 / (2 * c0);
    const Real q = c2 / c0;
    // fma keeps the digits of p^2 - q when both nearly agree (a double root).
    const Real discriminant = std::fma(p, p, -q);
    if (discriminant < 0) {
        const auto height = static_cast<double>(std::sqrt(-discriminant));
        const auto real = static_cast<double>(-p);
        return {Complex(real, height), Complex(real, -height)};
    }
    const Real far = -p - std::copysign(std::sqrt(discriminant), p);
    const Real near = far != 0 ? q / far : Real(0);
    return {Complex(static_cast<double>(far), 0), Complex(static_cast<double>(near), 0)};
}

// What a root does to the level over frequency: a bell, or a dip.
struct Bell {
    double centre_hz, half_width_hz;
};
Bell bell_of(const Complex& root, const Axis& axis, Domain domain) {
    if (domain == Domain::analog) {
        return {hz_from_rad_per_s(std::abs(root.imag())), hz_from_rad_per_s(std::abs(root.real()))};
    }
    return {hz_from_rad_per_sample(std::abs(std::arg(root)), axis.sample_rate_hz),
            hz_from_rad_per_sample(std::abs(1 - std::abs(root)), axis.sample_rate_hz)};
}

void add_points_near(const Complex& root, const TellingRange& range, Domain domain,
                     std::vector<double>& out) {
    if (root.imag() < 0 || root == Complex(0, 0)) {
        return; // The conjugate has the same angle.
    }
    const auto [centre, half_width] = bell_of(root, range.axis, domain);
    const double spacing = std::max(centre, range.low_hz) * (range.grid_ratio - 1);
    if (half_width > 4 * spacing) {
        return; // The grid resolves this bell by itself.
    }
    const auto add = [&](double f) {
        if (f >= range.low_hz && f <= range.high_hz) {
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

RootsValue value_in_s(const Roots& roots, const Complex& s) {
    RootsValue value{roots.gain, 0};
    for (const Complex& zero : roots.zeros) {
        value.h *= s - zero;
        value.log_slope += 1.0 / (s - zero);
    }
    for (const Complex& pole : roots.poles) {
        value.h /= s - pole;
        value.log_slope -= 1.0 / (s - pole);
    }
    return value;
}

} // namespace

std::vector<Complex> quadratic_roots(double c0, double c1, double c2) {
    return roots_of_quadratic(c0, c1, c2);
}

std::vector<Complex> quadratic_roots(long double c0, long double c1, long double c2) {
    return roots_of_quadratic(c0, c1, c2);
}

Roots roots_of(const Biquad& s) {
    Roots roots;
    double one = 1, no_delay = 0;
    take_roots(s.b0, s.b1, s.b2, roots.zeros, roots.gain, roots.delay_samples);
    take_roots(1, s.a1, s.a2, roots.poles, one, no_delay);
    return roots;
}

Roots roots_of(std::span<const Biquad> sections) {
    Roots all;
    for (const Biquad& section : sections) {
        all = series(std::move(all), roots_of(section));
    }
    return all;
}

Roots series(Roots first, const Roots& second) {
    first.zeros.insert(first.zeros.end(), second.zeros.begin(), second.zeros.end());
    first.poles.insert(first.poles.end(), second.poles.begin(), second.poles.end());
    first.gain *= second.gain;
    first.delay_samples += second.delay_samples;
    first.domain = second.domain == Domain::analog ? Domain::analog : first.domain;
    first.uncertainty = std::max(first.uncertainty, second.uncertainty);
    return first;
}

RootsValue value_of(const Roots& roots, Complex z) {
    if (roots.domain == Domain::analog) {
        return value_in_s(roots, z);
    }
    RootsValue value{roots.gain * std::pow(z, -roots.delay_samples), -roots.delay_samples / z};
    for (const Complex& zero : roots.zeros) {
        value.h *= 1.0 - zero / z;
        value.log_slope += 1.0 / (z - zero) - 1.0 / z;
    }
    for (const Complex& pole : roots.poles) {
        value.h /= 1.0 - pole / z;
        value.log_slope -= 1.0 / (z - pole) - 1.0 / z;
    }
    return value;
}

double slowest_pole_radius(const Roots& roots, double sample_rate_hz) {
    double largest = 0;
    for (const Complex& pole : roots.poles) {
        largest = std::max(largest, roots.domain == Domain::analog
                                        ? std::exp(pole.real() / sample_rate_hz)
                                        : std::abs(pole));
    }
    return largest;
}

int unstable_poles(const Roots& roots) {
    return static_cast<int>(std::ranges::count_if(roots.poles, [&](const Complex& pole) {
        return roots.domain == Domain::analog ? pole.real() >= 0 : std::abs(pole) >= 1;
    }));
}

void add_near_roots(const Roots& roots, const TellingRange& range, std::vector<double>& out) {
    for (const Complex& root : roots.poles) {
        add_points_near(root, range, roots.domain, out);
    }
    for (const Complex& root : roots.zeros) {
        add_points_near(root, range, roots.domain, out);
    }
}

} // namespace syntonon
