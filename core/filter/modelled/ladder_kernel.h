// Four integrators one behind the other, fed back: transistor and diode ladders whose stages
// saturate, with their feedback solved within every sample. It needs nothing but the standard
// library, since what instruments are given is this text.
//
// Transistor: y1' = w (S(x - k y4) - S(y1)), yi' = w (S(yi-1) - S(yi)) (A. Huovilainen, Non-linear
// digital implementation of a ladder filter, DAFx 2004). Diode, with i0 = S(x - k y4),
// i1 = S(y1 - y2), i2 = S(y2 - y3), i3 = S(y3 - y4), i4 = S(y4 / 3): yi' = w (ii-1 - ii) (F.
// Fontana and M. Civolani, IEEE Trans. Audio, Speech and Language Processing 18(4), 2010). S is the
// hyperbolic tangent.
//
// The trapezoidal rule makes y = s + g u of every integrator, and s = 2 y - s afterwards. Small
// signals swing at the limit k = k0 at w0: 4 and w for the transistor's ladder; from its
// polynomial s^4 + 19/3 s^3 + 35/3 s^2 + 6 s + 1/3 + k for the diode's at sqrt(18/19) w. With
// g = tan(pi f / fs) w / w0 that is at f exactly.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/modelled/flushed.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstddef>

namespace syntonon::modelled {

inline constexpr std::size_t ladder_poles = 4;
using FourValues = std::array<double, ladder_poles>;

enum class LadderType { transistor, diode };

// Lambert's continued fraction of tanh, held at 1 from where it gets there; within 1e-4 of it.
inline constexpr double saturated_from = 4.97178556;
inline double saturated(double x) {
    const double held = std::min(std::max(x, -saturated_from), saturated_from), q = held * held;
    return held * (135135 + q * (17325 + q * (378 + q)))
           / (135135 + q * (62370 + q * (3150 + q * 28)));
}

struct LadderCoefficients {
    double g = 0.1; // of an integrator
    double k = 0;   // of the feedback
};

inline double ladder_limit(LadderType type) { // k0
    const double swing = 18.0 / 19;           // (w0 / w)^2
    return type == LadderType::transistor ? 4 : swing * (35.0 / 3 - swing) - 1.0 / 3;
}

// `resonance` 1: at the limit, where small signals go on swinging at that frequency.
inline LadderCoefficients ladder_coefficients(LadderType type, double frequency_hz,
                                              double resonance, double sample_rate_hz) {
    constexpr double pi = 3.14159265358979323846;
    const double g = std::tan(pi * frequency_hz / sample_rate_hz);
    return {type == LadderType::transistor ? g : g / std::sqrt(18.0 / 19),
            resonance * ladder_limit(type)};
}

inline constexpr int newton_steps = 12;
// By how much an equation may be missed before the last step. Behind it about the square of that is
// left, 200 dB down.
inline constexpr double settled_at = 1e-5;

// One step of Newton's method for one voice; the amount by which the equations were missed before.
inline double newton_of_transistor(const LadderCoefficients& c, const FourValues& s, double x,
                                   FourValues& y) {
    double above = saturated(x - c.k * y[3]);
    double slope = -c.k * (1 - above * above); // of it over y4
    double missed = 0, through = 0;            // what the rows above hand on: through + by_last dy4
    double by_last = 0;
    FourValues alone{}, with_last{};
    for (std::size_t i = 0; i < ladder_poles; ++i) {
        const double own = saturated(y[i]), own_slope = 1 - own * own;
        const double r = y[i] - s[i] - c.g * (above - own);
        missed = std::max(missed, std::abs(r));
        const double inverse = 1 / (1 + c.g * own_slope);
        alone[i] = (through - r) * inverse;
        with_last[i] = (i == 0 ? c.g * slope : by_last) * inverse;
        through = c.g * own_slope * alone[i];
        by_last = c.g * own_slope * with_last[i];
        above = own;
    }
    const double last = alone[3] / (1 - with_last[3]);
    for (std::size_t i = 0; i < 3; ++i) {
        y[i] += alone[i] + with_last[i] * last;
    }
    y[3] += last;
    return missed;
}

inline double newton_of_diode(const LadderCoefficients& c, const FourValues& s, double x,
                              FourValues& y) {
    const double i0 = saturated(x - c.k * y[3]), i1 = saturated(y[0] - y[1]),
                 i2 = saturated(y[1] - y[2]), i3 = saturated(y[2] - y[3]), i4 = saturated(y[3] / 3);
    const double d1 = c.g * (1 - i1 * i1), d2 = c.g * (1 - i2 * i2), d3 = c.g * (1 - i3 * i3),
                 d4 = c.g * (1 - i4 * i4) / 3, back = c.g * c.k * (1 - i0 * i0);
    const double r0 = y[0] - s[0] - c.g * (i0 - i1), r1 = y[1] - s[1] - c.g * (i1 - i2),
                 r2 = y[2] - s[2] - c.g * (i2 - i3), r3 = y[3] - s[3] - c.g * (i3 - i4);
    // Downwards, each row's change by that of the row below and by the last one.
    const double m0 = 1 / (1 + d1), a0 = -r0 * m0, b0 = d1 * m0, c0 = -back * m0;
    const double m1 = 1 / (1 + d1 + d2 - d1 * b0), a1 = (d1 * a0 - r1) * m1, b1 = d2 * m1,
                 c1 = d1 * c0 * m1;
    const double m2 = 1 / (1 + d2 + d3 - d2 * b1), a2 = (d2 * a1 - r2) * m2,
                 c2 = (d3 + d2 * c1) * m2;
    const double e3 = (d3 * a2 - r3) / (1 + d3 + d4 - d3 * c2);
    const double e2 = a2 + c2 * e3, e1 = a1 + b1 * e2 + c1 * e3;
    y[0] += a0 + b0 * e1 + c0 * e3;
    y[1] += e1;
    y[2] += e2;
    y[3] += e3;
    return std::max(std::max(std::abs(r0), std::abs(r1)), std::max(std::abs(r2), std::abs(r3)));
}

// What goes in where a stage lets through `out`: the inverse of S, by halving.
inline double desaturated(double out) {
    double low = -saturated_from, high = saturated_from;
    for (int i = 0; i < 60; ++i) {
        const double middle = 0.5 * (low + high);
        (saturated(middle) < out ? low : high) = middle;
    }
    return 0.5 * (low + high);
}

// From the last output all the others follow upwards, and what must have come in: each grows with
// it, while what does come in, S(x - k y4), falls. So there is one place where they meet, and it
// can be enclosed.
inline bool is_last_too_high(LadderType type, const LadderCoefficients& c, const FourValues& s,
                             double x, double last, FourValues& y) {
    y[3] = last;
    double out = type == LadderType::transistor ? saturated(last) : saturated(last / 3);
    for (std::size_t i = 3;; --i) {
        const double in = (y[i] - s[i]) / c.g + out;
        if (i == 0) {
            return in > saturated(x - c.k * last);
        }
        if (std::abs(in) >= 1) {
            return in > 0;
        }
        const double through = desaturated(in);
        y[i - 1] = type == LadderType::transistor ? through : y[i] + through;
        out = in;
    }
}

inline void enclose(LadderType type, const LadderCoefficients& c, const FourValues& s, double x,
                    FourValues& y) {
    double low = s[3] - 2 * c.g, high = s[3] + 2 * c.g; // currents are within 1
    for (int i = 0; i < 100; ++i) {
        const double middle = 0.5 * (low + high);
        (is_last_too_high(type, c, s, x, middle, y) ? high : low) = middle;
    }
    is_last_too_high(type, c, s, x, 0.5 * (low + high), y);
}

// One sample into one voice; `steps` of Newton's method at most before the output is enclosed.
template <LadderType Type>
void step_ladder(const LadderCoefficients& c, FourValues& s, FourValues& y, double x,
                 int steps = newton_steps) {
    double missed = 2 * settled_at;
    for (int n = 0; n < steps && missed > settled_at; ++n) {
        if constexpr (Type == LadderType::transistor) {
            missed = newton_of_transistor(c, s, x, y);
        } else {
            missed = newton_of_diode(c, s, x, y);
        }
    }
    if (!(missed <= settled_at)) {
        enclose(Type, c, s, x, y);
    }
    for (std::size_t i = 0; i < ladder_poles; ++i) {
        s[i] = flushed(2 * y[i] - s[i]);
    }
}

} // namespace syntonon::modelled
