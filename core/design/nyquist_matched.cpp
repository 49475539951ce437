// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/nyquist_matched.h"

#include "core/base/units.h"

#include <array>
#include <cmath>
#include <numbers>
#include <optional>

namespace syntonon {
namespace {

using Real = long double;

Real analog_power(const AnalogSection& s, Real rad_per_s) {
    const Real w = rad_per_s, square = w * w;
    const auto power = [&](Real c2, Real c1, Real c0) {
        const Real re = c0 - c2 * square, im = c1 * w;
        return re * re + im * im;
    };
    return power(s.b2, s.b1, s.b0) / power(s.a2, s.a1, s.a0);
}

struct Denominator {
    Real a1 = 0, a2 = 0;
};

// 1 + a1/z + a2/z^2 with the poles e^(p/fs).
Denominator sampled_poles(const Roots& roots, double sample_rate_hz) {
    const Real rate = sample_rate_hz;
    const auto radius = [&](std::size_t i) { return std::exp(Real(roots.poles[i].real()) / rate); };
    if (roots.poles.size() == 1) {
        return {-radius(0), 0};
    }
    if (roots.poles[0].imag() != 0) {
        const Real angle = Real(roots.poles[0].imag()) / rate;
        return {-2 * radius(0) * std::cos(angle), radius(0) * radius(0)};
    }
    return {-(radius(0) + radius(1)), radius(0) * radius(1)};
}

Filter section(const std::array<Real, 3>& b, const Denominator& d) {
    const auto rounded = [](Real v) { return static_cast<double>(v); };
    Cascade cascade{{{rounded(b[0]), rounded(b[1]), rounded(b[2]), rounded(d.a1), rounded(d.a2)}}};
    Roots roots{quadratic_roots(b[0], b[1], b[2]), quadratic_roots(Real(1), d.a1, d.a2),
                rounded(b[0]), 0};
    std::erase(roots.zeros, std::complex<double>(0, 0));
    std::erase(roots.poles, std::complex<double>(0, 0));
    return {std::move(cascade), std::move(roots)};
}

tl::unexpected<Problem> cannot_match() {
    return refuse("mapping", "no section follows the analog level so close to half the rate",
                  "use bilinear, or a lower frequency");
}

// Both levels, with which a first-order section is known.
Filter first_order(const AnalogPrototype& p, double sample_rate_hz) {
    const Denominator d = sampled_poles(p.roots, sample_rate_hz);
    const Real half = std::numbers::pi_v<Real> * sample_rate_hz;
    const Real at_0 = (1 + d.a1) * std::sqrt(analog_power(p.section, 0));
    const Real at_half = (1 - d.a1) * std::sqrt(analog_power(p.section, half));
    return section({(at_0 + at_half) / 2, (at_0 - at_half) / 2, 0}, d);
}

// From g (1 - 2c/z + 1/z^2), c = cos w0, and the levels at both ends: 1 + a2 = g sigma, a1 = g
// alpha; then |D|^2 = 2 |N|^2 at the half-power point is a quadratic for g.
Expected<Filter> notch(const AnalogPrototype& p, double sample_rate_hz) {
    const Real rate = sample_rate_hz, w0 = 2 * std::numbers::pi_v<Real> * p.frequency_hz;
    const Real c = std::cos(w0 / rate);
    const Real at_half = std::sqrt(analog_power(p.section, std::numbers::pi_v<Real> * rate));
    const Real sigma = (1 - c) + (1 + c) / at_half, alpha = (1 - c) - (1 + c) / at_half;
    // Half power where w0^2 - w^2 = w0 w / Q, the lower one.
    const Real bandwidth = Real(p.section.a1) / Real(p.section.a2);
    const Real w = (std::hypot(bandwidth / 2, w0) - bandwidth / 2) / rate;
    const Real cosine = std::cos(w), sine = std::sin(w);
    const Real line = alpha + sigma * cosine, zeros = 2 * (cosine - c);
    // (g line)^2 + ((2 - g sigma) sine)^2 = 2 (g zeros)^2
    const Real square = line * line + sigma * sigma * sine * sine - 2 * zeros * zeros;
    const Real half_line = 2 * sigma * sine * sine, rest = 4 * sine * sine;
    const Real discriminant = half_line * half_line - square * rest;
    if (!(discriminant >= 0)) {
        return cannot_match();
    }
    const Real g = rest / (half_line + std::sqrt(discriminant));
    const Denominator d{g * alpha, g * sigma - 1};
    if (!(std::abs(d.a2) < 1 && std::abs(d.a1) < 1 + d.a2)) {
        return cannot_match();
    }
    return section({g, -2 * g * c, g}, d);
}

} // namespace

Expected<Filter> nyquist_matched(const AnalogPrototype& p, double sample_rate_hz) {
    if (order_of(p.section) == 1) {
        return first_order(p, sample_rate_hz);
    }
    if (p.section.b1 == 0 && p.section.b2 != 0 && p.section.b0 != 0) {
        return notch(p, sample_rate_hz);
    }
    const Denominator d = sampled_poles(p.roots, sample_rate_hz);
    const Real rate = sample_rate_hz, pi_long = std::numbers::pi_v<Real>;
    const Real w0 = 2 * pi_long * p.frequency_hz, sine = std::sin(w0 / rate / 2);
    const Real phi1 = sine * sine, phi0 = 1 - phi1, phi2 = 4 * phi0 * phi1;
    const auto squared = [](Real v) { return v * v; };
    const Real a0 = squared(1 + d.a1 + d.a2), a1 = squared(1 - d.a1 + d.a2), a2 = -4 * d.a2;
    const Real b0 = a0 * analog_power(p.section, 0);
    const Real b1 = a1 * analog_power(p.section, pi_long * rate);
    const Real at_w0 = (a0 * phi0 + a1 * phi1 + a2 * phi2) * analog_power(p.section, w0);
    const Real b2 = (at_w0 - b0 * phi0 - b1 * phi1) / phi2;
    const Real mean = (std::sqrt(b0) + std::sqrt(b1)) / 2;
    const Real under_root = mean * mean + b2;
    if (!(under_root >= 0)) {
        return cannot_match();
    }
    const Real first = (mean + std::sqrt(under_root)) / 2;
    return section({first, (std::sqrt(b0) - std::sqrt(b1)) / 2, -b2 / (4 * first)}, d);
}

} // namespace syntonon
