// Two integrators with damping, by the trapezoidal rule, their feedback solved within every sample.
// It needs nothing but the standard library, since what instruments are given is this text.
//
// y1' = w (x - 2 R y1 - y2) is the band, y2' = w y1 the low side, R the damping. The rule makes
// y = s + g u of an integrator and s = 2 y - s afterwards, with g = tan(pi f / fs), which puts the
// frequency where it belongs. However f, R and g change from sample to sample, the states stay
// within bounds (A. Wishnick, Time-varying filters for musical applications, DAFx 2014). All that
// it answers are sums of input, band and low side.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/modelled/flushed.h"
#include "core/filter/modelled/state_variable_build.h"

#include <cmath>

namespace syntonon::modelled {

struct StateVariableCoefficients {
    double g = 0.1, damping = 2;                  // 2 R
    double moved = 1;                             // g over that of the frequency itself
    double of_input = 0, of_band = 0, of_low = 1; // summed up
};

// Of an integrator; held below half the rate.
inline double state_variable_tangent(double frequency_hz, double sample_rate_hz,
                                     bool is_prewarped) {
    constexpr double pi = 3.14159265358979323846, highest = 0.499 * pi;
    const double angle = pi * frequency_hz / sample_rate_hz;
    const double held = angle > 0 ? (angle < highest ? angle : highest) : 0;
    return is_prewarped ? std::tan(held) : held;
}

// `resonance` 0: twice a real pole; 1: no damping, so that it goes on swinging; Q is
// 1 / (2 (1 - resonance)). The gain is that of peak and shelves, in dB.
inline StateVariableCoefficients state_variable_coefficients(StateVariableResponse response,
                                                             double frequency_hz, double resonance,
                                                             double gain_db, double sample_rate_hz,
                                                             bool is_prewarped = true) {
    StateVariableCoefficients c;
    c.damping = 2 * (1 - resonance);
    const double a = std::pow(10, gain_db / 40); // of each side of a shelf
    switch (response) {
    case StateVariableResponse::low:
        break;
    case StateVariableResponse::band:
        c.of_band = c.damping;
        c.of_low = 0;
        break;
    case StateVariableResponse::high:
        c.of_input = 1;
        c.of_band = -c.damping;
        c.of_low = -1;
        break;
    case StateVariableResponse::notch:
        c.of_input = 1;
        c.of_band = -c.damping;
        c.of_low = 0;
        break;
    case StateVariableResponse::peak: // (s^2 + 2R A s + 1) / (s^2 + 2R s / A + 1)
        c.of_input = 1;
        c.of_band = c.damping * (a - 1 / a);
        c.damping /= a;
        c.of_low = 0;
        break;
    case StateVariableResponse::all_pass:
        c.of_input = 1;
        c.of_band = -2 * c.damping;
        c.of_low = 0;
        break;
    case StateVariableResponse::low_shelf: // A (s^2 + 2R sqrt(A) s + A) / (A s^2 + 2R sqrt(A) s +
                                           // 1)
        c.moved = 1 / std::sqrt(a);
        c.of_input = 1;
        c.of_band = c.damping * (a - 1);
        c.of_low = a * a - 1;
        break;
    case StateVariableResponse::high_shelf:
        c.moved = std::sqrt(a);
        c.of_input = a * a;
        c.of_band = c.damping * (1 - a) * a;
        c.of_low = 1 - a * a;
        break;
    }
    c.g = c.moved * state_variable_tangent(frequency_hz, sample_rate_hz, is_prewarped);
    return c;
}

struct StateVariableState {
    double s1 = 0, s2 = 0;
};

inline double step_state_variable(const StateVariableCoefficients& c, StateVariableState& state,
                                  double x) {
    const double high =
        (x - (c.damping + c.g) * state.s1 - state.s2) / (1 + c.g * (c.damping + c.g));
    const double band = state.s1 + c.g * high, low = state.s2 + c.g * band;
    state.s1 = flushed(2 * band - state.s1);
    state.s2 = flushed(2 * low - state.s2);
    return c.of_input * x + c.of_band * band + c.of_low * low;
}

} // namespace syntonon::modelled
