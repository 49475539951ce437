// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/root_numbers.h"

#include "core/base/number_text.h"
#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

const double ln_1000 = std::log(1000.0);

// -sigma in 1/s.
double damping_of(const Complex& root, const Axis& axis) {
    // On the edge 0, not -0: what it divides is infinite, not minus infinity.
    return 0.0 - (axis.is_analog() ? root.real() : std::log(std::abs(root)) * axis.sample_rate_hz);
}

double frequency_of(const Complex& root, const Axis& axis) {
    return axis.is_analog() ? hz_from_rad_per_s(std::abs(root))
                            : hz_from_rad_per_sample(std::abs(std::arg(root)), axis.sample_rate_hz);
}

// The analog root of a natural frequency and -sigma; on the axis where it is overdamped.
Complex analog_root(double frequency_hz, double damping) {
    const double w = rad_per_s_from_hz(frequency_hz), rest = w * w - damping * damping;
    return rest > 0 ? Complex(-damping, std::sqrt(rest)) : Complex(-std::copysign(w, damping), 0);
}

Complex with_damping(const Complex& root, double damping, const Axis& axis) {
    return axis.is_analog() ? analog_root(frequency_of(root, axis), damping)
                            : std::polar(std::exp(-damping / axis.sample_rate_hz), std::arg(root));
}

Complex with_frequency(const Complex& root, double hz, const Axis& axis) {
    if (!axis.is_analog()) {
        return std::polar(std::abs(root), axis.rad_per_sample(hz));
    }
    const double size = std::abs(root), w = rad_per_s_from_hz(hz);
    return size > 0 ? root * (w / size) : Complex(0, w);
}

} // namespace

double number_of(const Complex& root, RootNumber which, const Axis& axis) {
    switch (which) {
    case RootNumber::real:
        return root.real();
    case RootNumber::imaginary:
        return root.imag();
    case RootNumber::radius:
        return std::abs(root);
    case RootNumber::angle_deg:
        return deg_from_rad(std::abs(std::arg(root)));
    case RootNumber::frequency_hz:
        return frequency_of(root, axis);
    case RootNumber::q:
        return pi * frequency_of(root, axis) / damping_of(root, axis);
    case RootNumber::bandwidth_hz:
        return damping_of(root, axis) / pi;
    case RootNumber::decay_s:
        break;
    }
    return ln_1000 / damping_of(root, axis);
}

Complex with_number(const Complex& root, RootNumber which, double value, const Axis& axis) {
    switch (which) {
    case RootNumber::real:
        return {value, root.imag()};
    case RootNumber::imaginary:
        return {root.real(), value};
    case RootNumber::radius:
        return std::polar(value, std::arg(root));
    case RootNumber::angle_deg:
        return std::polar(std::abs(root), rad_from_deg(value));
    case RootNumber::frequency_hz:
        return with_frequency(root, value, axis);
    case RootNumber::q:
        return with_damping(root, pi * frequency_of(root, axis) / value, axis);
    case RootNumber::bandwidth_hz:
        return with_damping(root, value * pi, axis);
    case RootNumber::decay_s:
        break;
    }
    return with_damping(root, ln_1000 / value, axis);
}

double growth_db_per_s(const Complex& pole, const Axis& axis) {
    return -damping_of(pole, axis) * db_from_ratio(std::numbers::e);
}

double growth_db_per_s(const Roots& roots, const Axis& axis) {
    double fastest = -infinity;
    for (const Complex& pole : roots.poles) {
        fastest = std::max(fastest, growth_db_per_s(pole, axis));
    }
    return fastest;
}

std::string growth_rate_text(const Roots& roots, const Axis& axis) {
    const double growth = growth_db_per_s(roots, axis);
    if (unstable_poles(roots) == 0 || growth <= 0) {
        return {};
    }
    // Whole numbers without exponents, as far as people read them.
    constexpr double whole_from = 100, most = 1e7;
    return growth >= whole_from && growth < most ? fmt::format("{:.0f} dB/s", growth)
                                                 : text_with_digits(growth, 3) + " dB/s";
}

std::string growth_text(const Roots& roots, const Axis& axis) {
    if (unstable_poles(roots) == 0) {
        return {};
    }
    const std::string rate = growth_rate_text(roots, axis);
    return rate.empty() ? "rings on without end" : "grows by " + rate;
}

Complex mirrored(const Complex& root, Domain domain) {
    return domain == Domain::analog ? -std::conj(root) : 1.0 / std::conj(root);
}

} // namespace syntonon
