// Four integrators one behind the other, fed back: transistor and diode ladders, linear or with
// stages that saturate, their feedback solved within every sample. It needs nothing but the
// standard library, since what instruments are given is this text.
//
// Transistor: y1' = w (S(x - k y4) - S(y1)), yi' = w (S(yi-1) - S(yi)) (A. Huovilainen, Non-linear
// digital implementation of a ladder filter, DAFx 2004). Diode, with i0 = S(x - k y4),
// i1 = S(y1 - y2), i2 = S(y2 - y3), i3 = S(y3 - y4), i4 = S(y4 / 3): yi' = w (ii-1 - ii) (F.
// Fontana and M. Civolani, IEEE Trans. Audio, Speech and Language Processing 18(4), 2010). S is the
// hyperbolic tangent; of a linear ladder it is a wire.
//
// The trapezoidal rule makes y = s + g u of every integrator, and s = 2 y - s afterwards. Small
// signals swing at the limit k = k0 at w0: 4 and w for the transistor's ladder; from its
// polynomial s^4 + 19/3 s^3 + 35/3 s^2 + 6 s + 1/3 + k for the diode's at sqrt(18/19) w. With
// g = tan(pi f / fs) w / w0 that is at f exactly.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/modelled/flushed.h"
#include "core/filter/modelled/ladder_build.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstddef>

namespace syntonon::modelled {

inline constexpr std::size_t ladder_poles = 4;
using FourValues = std::array<double, ladder_poles>;

// Lambert's continued fraction of tanh, held at 1 from where it gets there; within 1e-4 of it.
inline constexpr double saturated_from = 4.97178556;
inline double saturated(double x) {
    // In this order what is no number is held, too.
    const double held = std::min(std::max(-saturated_from, x), saturated_from), q = held * held;
    return held * (135135 + q * (17325 + q * (378 + q)))
           / (135135 + q * (62370 + q * (3150 + q * 28)));
}

template <bool Saturating>
inline double passed(double x) {
    return Saturating ? saturated(x) : x;
}
template <bool Saturating>
inline double slope_at(double passed) {
    return Saturating ? 1 - passed * passed : 1;
}

// Two at once, with one division.
struct TwoPassed {
    double first, second;
};
template <bool Saturating>
inline TwoPassed two_passed(double a, double b) {
    if constexpr (Saturating) {
        const double x = std::min(std::max(-saturated_from, a), saturated_from), q = x * x;
        const double y = std::min(std::max(-saturated_from, b), saturated_from), r = y * y;
        const double x_below = 135135 + q * (62370 + q * (3150 + q * 28)),
                     y_below = 135135 + r * (62370 + r * (3150 + r * 28));
        const double over = 1 / (x_below * y_below);
        return {x * (135135 + q * (17325 + q * (378 + q))) * y_below * over,
                y * (135135 + r * (17325 + r * (378 + r))) * x_below * over};
    }
    return {a, b};
}

inline double greatest(double a, double b, double c, double d) { // of their sizes
    return std::max(std::max(std::abs(a), std::abs(b)), std::max(std::abs(c), std::abs(d)));
}

struct LadderCoefficients {
    double g = 0.1; // of an integrator
    double k = 0;   // of the feedback
};

inline double ladder_limit(LadderType type) { // k0
    const double swing = 18.0 / 19;           // (w0 / w)^2
    return type == LadderType::transistor ? 4 : swing * (35.0 / 3 - swing) - 1.0 / 3;
}

// Beyond the limit the stages saturate, and the ladder swings lower than it is set: at so much of
// it. What the equations above swing at, at 96 kHz, resonance 1 to 2, by least squares within 0.03
// cents at low frequencies and 1.1 cents up to 10 kHz; u is 1 - 1 / resonance, g as above.
inline double beyond_limit(double resonance) { // u
    return resonance > 1 ? 1 - 1 / resonance : 0;
}
inline double ladder_swing_beyond(LadderType type, double u, double g) {
    return type == LadderType::transistor
               ? 1
                     - u * (0.24947579 - u * (0.28369702 - u * (0.15679849 - u * 0.0540286)))
                           * (1 - (0.54799588 - 0.11761626 * u) * g * g)
               : 1
                     - u * (0.10289029 - u * (0.06644948 - u * (0.02311781 + u * 0.00429265)))
                           * (1 - (0.64525459 + 2.21691509 * u) * g * g);
}

inline double ladder_swing(LadderType type, double resonance, double g) {
    return ladder_swing_beyond(type, beyond_limit(resonance), g);
}

// The tangent by Lambert's continued fraction, within 5e-12 of it up to 0.95.
inline double prewarped(double angle) {
    const double q = angle * angle;
    return angle * (135135 - q * (17325 - q * (378 - q)))
           / (135135 - q * (62370 - q * (3150 - q * 28)));
}

// `resonance` 1: at the limit, where small signals go on swinging at that frequency; beyond it
// large ones do, at that frequency, too. Frequencies are held between 0 and 0.3 of the
// rate: beyond that Newton's method would often have to be rescued by enclosing. Not prewarped: the
// angle stands for its tangent, and all lies lower the higher it is.
inline double ladder_g(LadderType type, double frequency_hz, double u, double sample_rate_hz,
                       bool is_prewarped) {
    constexpr double pi = 3.14159265358979323846;
    const double angle = pi * frequency_hz / sample_rate_hz;
    const double untuned = prewarped(std::min(std::max(0.0, angle), pi / 4));
    const double tuned = angle / ladder_swing_beyond(type, u, untuned);
    const double held = std::min(std::max(0.0, tuned), 0.3 * pi);
    const double g = is_prewarped ? prewarped(held) : held;
    return type == LadderType::transistor ? g : g / 0.97332852678457515; // sqrt(18 / 19)
}
inline LadderCoefficients ladder_coefficients(LadderType type, double frequency_hz,
                                              double resonance, double sample_rate_hz,
                                              bool is_prewarped = true) {
    return {ladder_g(type, frequency_hz, beyond_limit(resonance), sample_rate_hz, is_prewarped),
            resonance * ladder_limit(type)};
}

inline constexpr int newton_steps = 20;
// By how much an equation may be missed before the last step. Behind it about the square of that is
// left, 200 dB down.
inline constexpr double settled_at = 1e-5;

// By how much the outputs of one voice change in a step of Newton's method, and by how much the
// equations were missed before it.
struct NewtonStep {
    double y0, y1, y2, y3, missed;
};

// Each change by itself, by that of the row below, and by that of the last one, downwards; of the
// divisions that elimination takes one is left, since what is divided by is kept as a factor.
template <LadderType Type, bool Saturating = true>
inline NewtonStep newton_step(double g, double k, double s0, double s1, double s2, double s3,
                              double x, double y0, double y1, double y2, double y3) {
    const auto slope = [](double out) { return slope_at<Saturating>(out); };
    constexpr double third = 1.0 / 3;
    const double i0 = passed<Saturating>(x - k * y3), back = g * k * slope(i0);
    if constexpr (Type == LadderType::transistor) {
        const auto [i1, i2] = two_passed<Saturating>(y0, y1);
        const auto [i3, i4] = two_passed<Saturating>(y2, y3);
        const double d1 = g * slope(i1), d2 = g * slope(i2), d3 = g * slope(i3), d4 = g * slope(i4);
        const double r0 = y0 - s0 - g * (i0 - i1), r1 = y1 - s1 - g * (i1 - i2),
                     r2 = y2 - s2 - g * (i2 - i3), r3 = y3 - s3 - g * (i3 - i4);
        const double p0 = 1 + d1, p1 = (1 + d2) * p0, p2 = (1 + d3) * p1;
        const double a0 = -r0, c0 = -back;
        const double a1 = d1 * a0 - r1 * p0, c1 = d1 * c0;
        const double a2 = d2 * a1 - r2 * p1, c2 = d2 * c1;
        const double last = (1 + d4) * p2 - d3 * c2, outer = p1 * p2;
        const double over = 1 / (p0 * outer * last);
        const double e3 = (d3 * a2 - r3 * p2) * (over * p0 * outer);
        const double rest = over * last;
        const double e2 = (a2 + c2 * e3) * (rest * p0 * p1), e1 = (a1 + c1 * e3) * (rest * p0 * p2),
                     e0 = (a0 + c0 * e3) * (rest * outer);
        return {e0, e1, e2, e3, greatest(r0, r1, r2, r3)};
    } else {
        const auto [i1, i2] = two_passed<Saturating>(y0 - y1, y1 - y2);
        const auto [i3, i4] = two_passed<Saturating>(y2 - y3, third * y3);
        const double d1 = g * slope(i1), d2 = g * slope(i2), d3 = g * slope(i3),
                     d4 = third * g * slope(i4);
        const double r0 = y0 - s0 - g * (i0 - i1), r1 = y1 - s1 - g * (i1 - i2),
                     r2 = y2 - s2 - g * (i2 - i3), r3 = y3 - s3 - g * (i3 - i4);
        const double p0 = 1 + d1, p1 = (1 + d1 + d2) * p0 - d1 * d1,
                     p2 = (1 + d2 + d3) * p1 - d2 * d2 * p0;
        const double a0 = -r0, c0 = -back;
        const double a1 = d1 * a0 - r1 * p0, c1 = d1 * c0;
        const double a2 = d2 * a1 - r2 * p1, c2 = d2 * c1 + d3 * p1;
        const double last = (1 + d3 + d4) * p2 - d3 * c2, outer = p1 * p2;
        const double over = 1 / (p0 * outer * last);
        const double e3 = (d3 * a2 - r3 * p2) * (over * p0 * outer);
        const double rest = over * last;
        const double e2 = (a2 + c2 * e3) * (rest * p0 * p1);
        const double e1 = (a1 + c1 * e3 + d2 * p0 * e2) * (rest * p0 * p2);
        const double e0 = (a0 + c0 * e3 + d1 * e1) * (rest * outer);
        return {e0, e1, e2, e3, greatest(r0, r1, r2, r3)};
    }
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
    double out = type == LadderType::transistor ? saturated(last) : saturated(1.0 / 3 * last);
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

// Voices side by side, each with its own coefficients, so that a compiler can work on several at a
// time (with -O3 -fno-trapping-math -fno-math-errno). The numbers of each are, to the last bit,
// those that it would have alone.
template <std::size_t Voices>
struct LadderVoices {
    using Row = std::array<double, Voices>;
    Row g{}, k{};
    std::array<Row, ladder_poles> s{}, y{}; // of the integrators; the poles' outputs

    void set(std::size_t voice, const LadderCoefficients& c) {
        g[voice] = c.g;
        k[voice] = c.k;
    }
    FourValues of_voice(const std::array<Row, ladder_poles>& rows, std::size_t voice) const {
        return {rows[0][voice], rows[1][voice], rows[2][voice], rows[3][voice]};
    }
};

template <LadderType Type, std::size_t Voices>
void enclose_unsettled(LadderVoices<Voices>& v, const std::array<double, Voices>& x,
                       const std::array<double, Voices>& missed) {
    for (std::size_t j = 0; j < Voices; ++j) {
        if (!(missed[j] <= settled_at)) {
            FourValues y{};
            enclose(Type, {v.g[j], v.k[j]}, v.of_voice(v.s, j), x[j], y);
            for (std::size_t i = 0; i < ladder_poles; ++i) {
                v.y[i][j] = y[i];
            }
        }
    }
}

template <std::size_t Voices>
void integrate(LadderVoices<Voices>& v) {
    for (std::size_t i = 0; i < ladder_poles; ++i) {
        for (std::size_t j = 0; j < Voices; ++j) {
            v.y[i][j] = flushed(v.y[i][j]);
            v.s[i][j] = flushed(2 * v.y[i][j] - v.s[i][j]);
        }
    }
}

// Where Newton's method begins: as if each integrator's input stayed as it was.
template <std::size_t Voices>
void predict(LadderVoices<Voices>& v) {
    for (std::size_t i = 0; i < ladder_poles; ++i) {
        for (std::size_t j = 0; j < Voices; ++j) {
            v.y[i][j] = 2 * v.s[i][j] - v.y[i][j];
        }
    }
}

// One sample into each of linear ones: Newton's first step is there.
template <LadderType Type, std::size_t Voices>
void step_linear_ladders(LadderVoices<Voices>& v, const std::array<double, Voices>& x) {
    for (std::size_t j = 0; j < Voices; ++j) {
        const NewtonStep to =
            newton_step<Type, false>(v.g[j], v.k[j], v.s[0][j], v.s[1][j], v.s[2][j], v.s[3][j],
                                     x[j], v.y[0][j], v.y[1][j], v.y[2][j], v.y[3][j]);
        v.y[0][j] += to.y0;
        v.y[1][j] += to.y1;
        v.y[2][j] += to.y2;
        v.y[3][j] += to.y3;
    }
    integrate(v);
}

// One sample into each; at most `steps` of Newton's method before an output is enclosed.
template <LadderType Type, std::size_t Voices>
void step_ladders(LadderVoices<Voices>& v, const std::array<double, Voices>& x,
                  int steps = newton_steps) {
    predict(v);
    std::array<double, Voices> missed, share;
    missed.fill(1e300);
    share.fill(1);
    double worst = 2 * settled_at;
    for (int n = 0; n < steps && worst > settled_at; ++n) {
        for (std::size_t j = 0; j < Voices; ++j) {
            const double y0 = v.y[0][j], y1 = v.y[1][j], y2 = v.y[2][j], y3 = v.y[3][j];
            const NewtonStep to = newton_step<Type>(v.g[j], v.k[j], v.s[0][j], v.s[1][j], v.s[2][j],
                                                    v.s[3][j], x[j], y0, y1, y2, y3);
            // Where a step has led to worse, half of the next is taken: so it cannot go in circles
            // between the two sides of a stage that saturates.
            const double some = to.missed > missed[j] ? 0.5 * share[j] : 1.0;
            const bool rests = missed[j] <= settled_at;
            v.y[0][j] = rests ? y0 : y0 + some * to.y0;
            v.y[1][j] = rests ? y1 : y1 + some * to.y1;
            v.y[2][j] = rests ? y2 : y2 + some * to.y2;
            v.y[3][j] = rests ? y3 : y3 + some * to.y3;
            missed[j] = rests ? missed[j] : to.missed;
            share[j] = some;
        }
        worst = 0;
        for (std::size_t j = 0; j < Voices; ++j) {
            worst = missed[j] <= worst ? worst : missed[j]; // also where it is no number
        }
    }
    if (!(worst <= settled_at)) {
        enclose_unsettled<Type>(v, x, missed);
    }
    integrate(v);
}

} // namespace syntonon::modelled
