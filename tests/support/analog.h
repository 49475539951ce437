// What a parametric section should do, in long double and straight from the analog formula: the
// bilinear transform maps w to s = j tan(w/2) / tan(w0/2), and no coefficient is ever formed.
// Independent of the code under test.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/parametric.h"

#include <cmath>
#include <complex>
#include <numbers>

namespace syntonon::test {

using Wide = long double;
using WideComplex = std::complex<Wide>;

inline constexpr Wide wide_pi = std::numbers::pi_v<Wide>;

// The prototypes of the Audio EQ Cookbook, second order, with w0 normalised to 1.
inline WideComplex second_order_prototype(ParametricShape shape, Wide A, Wide q, WideComplex s) {
    const WideComplex s2 = s * s;
    const Wide root_a = std::sqrt(A);
    const WideComplex pole = s2 + s / q + Wide(1);
    switch (shape) {
    case ParametricShape::peak:
        return (s2 + s * (A / q) + Wide(1)) / (s2 + s / (A * q) + Wide(1));
    case ParametricShape::low_shelf:
        return A * (s2 + s * (root_a / q) + A) / (A * s2 + s * (root_a / q) + Wide(1));
    case ParametricShape::high_shelf:
        return A * (A * s2 + s * (root_a / q) + Wide(1)) / (s2 + s * (root_a / q) + A);
    case ParametricShape::low_pass:
        return Wide(1) / pole;
    case ParametricShape::high_pass:
        return s2 / pole;
    case ParametricShape::band_pass:
        return (s / q) / pole;
    case ParametricShape::notch:
        return (s2 + Wide(1)) / pole;
    case ParametricShape::all_pass:
        return (s2 - s / q + Wide(1)) / pole;
    }
    return 1;
}

inline WideComplex first_order_prototype(ParametricShape shape, Wide root_gain, WideComplex s) {
    switch (shape) {
    case ParametricShape::low_pass:
        return Wide(1) / (s + Wide(1));
    case ParametricShape::high_pass:
        return s / (s + Wide(1));
    case ParametricShape::low_shelf:
        return (s + root_gain) / (s + Wide(1) / root_gain);
    case ParametricShape::high_shelf:
        return (root_gain * s + Wide(1)) / (s / root_gain + Wide(1));
    case ParametricShape::all_pass:
        return (Wide(1) - s) / (s + Wide(1));
    default:
        return 1;
    }
}

// `spec.width` must be a Q.
inline WideComplex exact_response(const ParametricSpec& spec, double sample_rate_hz, double hz) {
    const Wide w0 = 2 * wide_pi * Wide(spec.frequency_hz) / Wide(sample_rate_hz);
    const Wide w = 2 * wide_pi * Wide(hz) / Wide(sample_rate_hz);
    const WideComplex s(0, std::tan(w / 2) / std::tan(w0 / 2));
    const Wide A = std::pow(Wide(10), Wide(spec.gain_db) / 40);
    return spec.order == 1 ? first_order_prototype(spec.shape, A, s)
                           : second_order_prototype(spec.shape, has_gain(spec.shape) ? A : 1,
                                                    Wide(spec.width.value), s);
}

inline double exact_level_db(const ParametricSpec& spec, double sample_rate_hz, double hz) {
    return static_cast<double>(20 * std::log10(std::abs(exact_response(spec, sample_rate_hz, hz))));
}

// In samples: -d(phase)/dw as the real part of the logarithmic derivative, with a complex step
// small enough for long double's 19 digits (central difference of log H along the circle,
// Richardson extrapolated).
inline double exact_group_delay(const ParametricSpec& spec, double sample_rate_hz, double hz) {
    const auto phase_slope = [&](Wide step_hz) {
        const WideComplex above =
            exact_response(spec, sample_rate_hz, static_cast<double>(Wide(hz) + step_hz));
        const WideComplex below =
            exact_response(spec, sample_rate_hz, static_cast<double>(Wide(hz) - step_hz));
        return -std::arg(above / below) / (2 * (2 * wide_pi * step_hz / Wide(sample_rate_hz)));
    };
    const Wide h = Wide(hz) * std::exp2(Wide(-12)); // a power of two: hz ± h is exact in double
    return static_cast<double>((4 * phase_slope(h / 2) - phase_slope(h)) / 3);
}

} // namespace syntonon::test
