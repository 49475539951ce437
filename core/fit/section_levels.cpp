// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/section_levels.h"

#include "core/base/units.h"

#include <cmath>
#include <numbers>

namespace syntonon {
namespace {

constexpr double db_per_neper_of_power = 10 / std::numbers::ln10;

// What does not depend on the frequency that is asked for.
struct Constants {
    double amplitude; // A
    double alpha;
    double half_sine_squared, sine, cosine; // of w0
    double w0;
};

Constants constants_of(const SectionNumbers& section, const FrequencyGrid& grid) {
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

Steps steps_of(const SectionNumbers& section, const Constants& k) {
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

struct Peak {
    static double level(const Constants& k, const AtFrequency& at) {
        const double p = k.alpha * k.amplitude * at.sine, q = k.alpha / k.amplitude * at.sine;
        return db_per_neper_of_power * std::log((at.u * at.u + p * p) / (at.u * at.u + q * q));
    }

    static std::array<double, 3> slopes(const Constants& k, const Steps& d, const AtFrequency& at) {
        const double p = k.alpha * k.amplitude * at.sine, q = k.alpha / k.amplitude * at.sine;
        const double above = at.u * at.u + p * p, below = at.u * at.u + q * q;
        const double by_u = at.u * (1 / above - 1 / below);
        const double by_alpha = (p * p / above - q * q / below) / k.alpha;
        const double by_amplitude = (p * p / above + q * q / below) / k.amplitude;
        constexpr double twice = 2 * db_per_neper_of_power;
        return {twice * (by_u * k.sine + by_alpha * d.alpha_by_w0) * d.w0_by_log2_hz,
                twice * by_amplitude * d.amplitude_by_gain, twice * by_alpha * d.alpha_by_log2_q};
    }
};

// `sign`: 1 for the low shelf, -1 for the high one, which exchanges a and c.
template <int sign>
struct Shelf {
    double a, c, t;
    Shelf(const Constants& k, const AtFrequency& at)
        : a((k.amplitude + 1) * at.u + sign * (k.amplitude - 1) * at.v),
          c((k.amplitude + 1) * at.u - sign * (k.amplitude - 1) * at.v),
          t(2 * std::sqrt(k.amplitude) * k.alpha * at.sine) {}

    static double level(const Constants& k, const AtFrequency& at) {
        const Shelf s(k, at);
        return db_per_neper_of_power
               * std::log(k.amplitude * k.amplitude * (s.a * s.a + s.t * s.t)
                          / (s.c * s.c + s.t * s.t));
    }

    static std::array<double, 3> slopes(const Constants& k, const Steps& d, const AtFrequency& at) {
        const Shelf s(k, at);
        const double above = s.a * s.a + s.t * s.t, below = s.c * s.c + s.t * s.t;
        const double by_a = s.a / above, by_c = -s.c / below, by_t = s.t * (1 / above - 1 / below);
        const double v_by_w0 = at.cosine * k.sine;
        const double by_w0 =
            by_a * ((k.amplitude + 1) * k.sine + sign * (k.amplitude - 1) * v_by_w0)
            + by_c * ((k.amplitude + 1) * k.sine - sign * (k.amplitude - 1) * v_by_w0);
        const double by_alpha = by_t * s.t / k.alpha;
        const double by_amplitude = 1 / k.amplitude + by_a * (at.u + sign * at.v)
                                    + by_c * (at.u - sign * at.v) + by_t * s.t / (2 * k.amplitude);
        constexpr double twice = 2 * db_per_neper_of_power;
        return {twice * (by_w0 + by_alpha * d.alpha_by_w0) * d.w0_by_log2_hz,
                twice * by_amplitude * d.amplitude_by_gain, twice * by_alpha * d.alpha_by_log2_q};
    }
};

template <class Call>
void with_shape(ParametricShape shape, Call call) {
    switch (shape) {
    case ParametricShape::low_shelf:
        return call.template operator()<Shelf<1>>();
    case ParametricShape::high_shelf:
        return call.template operator()<Shelf<-1>>();
    default:
        return call.template operator()<Peak>();
    }
}

} // namespace

SectionNumbers numbers_of_section(const ParametricSpec& spec) {
    return {spec.shape, std::log2(spec.frequency_hz), spec.gain_db, std::log2(spec.width.value)};
}

ParametricSpec spec_of(const SectionNumbers& section) {
    return parametric(section.shape, std::exp2(section.log2_hz), section.gain_db,
                      std::exp2(section.log2_q));
}

void add_levels(const SectionNumbers& section, const FrequencyGrid& grid,
                std::span<double> level_db) {
    const Constants k = constants_of(section, grid);
    with_shape(section.shape, [&]<class Shape>() {
        for (std::size_t i = 0; i < grid.size(); ++i) {
            level_db[i] += Shape::level(k, {k, grid, i});
        }
    });
}

void add_levels(const SectionNumbers& section, const FrequencyGrid& grid,
                std::span<double> level_db, const std::array<std::span<double>, 3>& slopes) {
    const Constants k = constants_of(section, grid);
    const Steps d = steps_of(section, k);
    with_shape(section.shape, [&]<class Shape>() {
        for (std::size_t i = 0; i < grid.size(); ++i) {
            const AtFrequency at(k, grid, i);
            level_db[i] += Shape::level(k, at);
            const auto by = Shape::slopes(k, d, at);
            for (std::size_t j = 0; j < by.size(); ++j) {
                slopes[j][i] = by[j];
            }
        }
    });
}

} // namespace syntonon
