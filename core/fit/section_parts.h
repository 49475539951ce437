// The parts that level and phase of a bell, shelf or all-pass are made of, and their slopes: see
// section_levels.h.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/units.h"
#include "core/fit/section_levels.h"

#include <array>
#include <cmath>
#include <numbers>

namespace syntonon::section_parts {

// What does not depend on the frequency that is asked for.
struct Constants {
    double amplitude; // A
    double alpha;
    double half_sine_squared, sine, cosine; // of w0
    double w0;
};

inline Constants constants_of(const SectionNumbers& section, const FrequencyGrid& grid) {
    Constants k{};
    k.amplitude = std::pow(10.0, section.gain_db / 40);
    k.w0 = rad_per_sample_from_hz(std::exp2(section.log2_hz), grid.sample_rate_hz());
    k.sine = std::sin(k.w0);
    k.cosine = std::cos(k.w0);
    k.half_sine_squared = std::sin(k.w0 / 2) * std::sin(k.w0 / 2);
    k.alpha = k.sine / (2 * std::exp2(section.log2_q));
    return k;
}

// Per step of each number.
struct Steps {
    double w0_by_log2_hz, amplitude_by_gain, alpha_by_w0, alpha_by_log2_q;
};

inline Steps steps_of(const SectionNumbers& section, const Constants& k) {
    return {k.w0 * std::numbers::ln2, k.amplitude * std::numbers::ln10 / 40,
            k.cosine / (2 * std::exp2(section.log2_q)), -k.alpha * std::numbers::ln2};
}

// One frequency's parts of the section.
struct AtFrequency {
    double u, v, sine, cosine;
    AtFrequency(const Constants& k, const FrequencyGrid& grid, std::size_t i)
        : u(2 * (k.half_sine_squared - grid.half_sine_squared()[i])),
          v(2
            * (grid.half_sine_squared()[i] + k.half_sine_squared
               - 2 * grid.half_sine_squared()[i] * k.half_sine_squared)),
          sine(grid.sine()[i]), cosine(grid.cosine()[i]) {}
};

// (u + j p) / (u + j q)
struct Peak {
    double u, p, q, above, below; // with the squares of both magnitudes
    Peak(const Constants& k, const AtFrequency& at)
        : u(at.u), p(k.alpha * k.amplitude * at.sine), q(k.alpha / k.amplitude * at.sine),
          above(u * u + p * p), below(u * u + q * q) {}

    // From those by u and by the logarithms of p and q.
    static std::array<double, 3> slopes(const Constants& k, const Steps& d, const AtFrequency&,
                                        double by_u, double by_log_p, double by_log_q) {
        const double by_alpha = (by_log_p + by_log_q) / k.alpha;
        const double by_amplitude = (by_log_p - by_log_q) / k.amplitude;
        return {(by_u * k.sine + by_alpha * d.alpha_by_w0) * d.w0_by_log2_hz,
                by_amplitude * d.amplitude_by_gain, by_alpha * d.alpha_by_log2_q};
    }
};

// A (a + j t) / (c + j t); `sign`: 1 for the low shelf, -1 for the high one, which exchanges a and
// c.
template <int sign>
struct Shelf {
    double a, c, t, above, below;
    Shelf(const Constants& k, const AtFrequency& at)
        : a((k.amplitude + 1) * at.u + sign * (k.amplitude - 1) * at.v),
          c((k.amplitude + 1) * at.u - sign * (k.amplitude - 1) * at.v),
          t(2 * std::sqrt(k.amplitude) * k.alpha * at.sine), above(a * a + t * t),
          below(c * c + t * t) {}

    // From those by a, c, the logarithm of t, and by that of A for the factor A.
    static std::array<double, 3> slopes(const Constants& k, const Steps& d, const AtFrequency& at,
                                        double by_a, double by_c, double by_log_t,
                                        double by_log_factor) {
        const double v_by_w0 = at.cosine * k.sine;
        const double by_w0 =
            by_a * ((k.amplitude + 1) * k.sine + sign * (k.amplitude - 1) * v_by_w0)
            + by_c * ((k.amplitude + 1) * k.sine - sign * (k.amplitude - 1) * v_by_w0);
        const double by_alpha = by_log_t / k.alpha;
        const double by_amplitude = by_log_factor / k.amplitude + by_a * (at.u + sign * at.v)
                                    + by_c * (at.u - sign * at.v) + by_log_t / (2 * k.amplitude);
        return {(by_w0 + by_alpha * d.alpha_by_w0) * d.w0_by_log2_hz,
                by_amplitude * d.amplitude_by_gain, by_alpha * d.alpha_by_log2_q};
    }
};

// What a shape has at each frequency is added; the slopes are written.
template <class Shape>
void add_values(const SectionNumbers& section, const FrequencyGrid& grid,
                std::span<double> values) {
    const Constants k = constants_of(section, grid);
    for (std::size_t i = 0; i < grid.size(); ++i) {
        values[i] += Shape::value(k, {k, grid, i});
    }
}
template <class Shape>
void add_values(const SectionNumbers& section, const FrequencyGrid& grid, std::span<double> values,
                const std::array<std::span<double>, 3>& slopes) {
    const Constants k = constants_of(section, grid);
    const Steps d = steps_of(section, k);
    for (std::size_t i = 0; i < grid.size(); ++i) {
        const AtFrequency at(k, grid, i);
        values[i] += Shape::value(k, at);
        const auto by = Shape::slopes(k, d, at);
        for (std::size_t j = 0; j < by.size(); ++j) {
            slopes[j][i] = by[j];
        }
    }
}

} // namespace syntonon::section_parts
