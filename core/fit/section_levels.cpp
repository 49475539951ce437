// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/section_levels.h"

#include "core/fit/section_parts.h"

#include <cmath>
#include <numbers>

namespace syntonon {
namespace {

using namespace section_parts;

constexpr double db_per_neper_of_power = 10 / std::numbers::ln10;

struct PeakLevel {
    static double value(const Constants& k, const AtFrequency& at) {
        const Peak s(k, at);
        return db_per_neper_of_power * std::log(s.above / s.below);
    }
    static std::array<double, 3> slopes(const Constants& k, const Steps& d, const AtFrequency& at) {
        const Peak s(k, at);
        constexpr double twice = 2 * db_per_neper_of_power;
        return Peak::slopes(k, d, at, twice * s.u * (1 / s.above - 1 / s.below),
                            twice * s.p * s.p / s.above, -twice * s.q * s.q / s.below);
    }
};

template <int sign>
struct ShelfLevel {
    static double value(const Constants& k, const AtFrequency& at) {
        const Shelf<sign> s(k, at);
        return db_per_neper_of_power * std::log(k.amplitude * k.amplitude * s.above / s.below);
    }
    static std::array<double, 3> slopes(const Constants& k, const Steps& d, const AtFrequency& at) {
        const Shelf<sign> s(k, at);
        constexpr double twice = 2 * db_per_neper_of_power;
        return Shelf<sign>::slopes(k, d, at, twice * s.a / s.above, -twice * s.c / s.below,
                                   twice * s.t * s.t * (1 / s.above - 1 / s.below), twice);
    }
};

// An all-pass does nothing to the level: it is a bell without gain.
template <class Call>
void with_shape(ParametricShape shape, Call call) {
    switch (shape) {
    case ParametricShape::low_shelf:
        return call.template operator()<ShelfLevel<1>>();
    case ParametricShape::high_shelf:
        return call.template operator()<ShelfLevel<-1>>();
    default:
        return call.template operator()<PeakLevel>();
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
    with_shape(section.shape, [&]<class Shape>() { add_values<Shape>(section, grid, level_db); });
}

void add_levels(const SectionNumbers& section, const FrequencyGrid& grid,
                std::span<double> level_db, const std::array<std::span<double>, 3>& slopes) {
    with_shape(section.shape,
               [&]<class Shape>() { add_values<Shape>(section, grid, level_db, slopes); });
}

} // namespace syntonon
