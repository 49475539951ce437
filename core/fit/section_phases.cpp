// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/section_phases.h"

#include "core/fit/section_parts.h"

#include <cmath>

namespace syntonon {
namespace {

using namespace section_parts;

struct PeakPhase {
    static double value(const Constants& k, const AtFrequency& at) {
        const Peak s(k, at);
        return std::atan2(s.p, s.u) - std::atan2(s.q, s.u);
    }
    static std::array<double, 3> slopes(const Constants& k, const Steps& d, const AtFrequency& at) {
        const Peak s(k, at);
        return Peak::slopes(k, d, at, s.q / s.below - s.p / s.above, s.u * s.p / s.above,
                            -s.u * s.q / s.below);
    }
};

// Both of a bell's angles, of A = 1, with the same sign.
struct AllPassPhase {
    static double value(const Constants& k, const AtFrequency& at) {
        return -2 * std::atan2(k.alpha * at.sine, at.u);
    }
    static std::array<double, 3> slopes(const Constants& k, const Steps& d, const AtFrequency& at) {
        const double t = k.alpha * at.sine, square = at.u * at.u + t * t;
        const double by_log_t = -at.u * t / square;
        return Peak::slopes(k, d, at, 2 * t / square, by_log_t, by_log_t);
    }
};

template <int sign>
struct ShelfPhase {
    static double value(const Constants& k, const AtFrequency& at) {
        const Shelf<sign> s(k, at);
        return std::atan2(s.t, s.a) - std::atan2(s.t, s.c);
    }
    static std::array<double, 3> slopes(const Constants& k, const Steps& d, const AtFrequency& at) {
        const Shelf<sign> s(k, at);
        return Shelf<sign>::slopes(k, d, at, -s.t / s.above, s.t / s.below,
                                   s.t * (s.a / s.above - s.c / s.below), 0);
    }
};

template <class Call>
void with_phases_of(ParametricShape shape, Call call) {
    switch (shape) {
    case ParametricShape::low_shelf:
        return call.template operator()<ShelfPhase<1>>();
    case ParametricShape::high_shelf:
        return call.template operator()<ShelfPhase<-1>>();
    case ParametricShape::all_pass:
        return call.template operator()<AllPassPhase>();
    default:
        return call.template operator()<PeakPhase>();
    }
}

} // namespace

void add_phases(const SectionNumbers& section, const FrequencyGrid& grid,
                std::span<double> phase_rad) {
    with_phases_of(section.shape,
                   [&]<class Shape>() { add_values<Shape>(section, grid, phase_rad); });
}

void add_phases(const SectionNumbers& section, const FrequencyGrid& grid,
                std::span<double> phase_rad, const std::array<std::span<double>, 3>& slopes) {
    with_phases_of(section.shape,
                   [&]<class Shape>() { add_values<Shape>(section, grid, phase_rad, slopes); });
}

} // namespace syntonon
