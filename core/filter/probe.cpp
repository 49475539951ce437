// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/probe.h"

#include "core/base/units.h"
#include "core/filter/filter.h"
#include "core/math/complex_parts.h"

#include <cmath>
#include <limits>

namespace syntonon {
namespace {

constexpr double tolerable_delay_error_samples = 1e-3;

} // namespace

double level_db(const FilterValue& value) {
    const double size = size_of(value.h);
    constexpr double greatest = std::numeric_limits<double>::max();
    if (size > value.floor && size <= greatest) {
        return db_from_ratio(size);
    }
    const bool is_number = size <= greatest && value.floor <= greatest;
    // Beyond: a product of many, all of them large.
    return is_number ? -std::numeric_limits<double>::infinity() : db_from_ratio(greatest);
}

double group_delay_samples(const FilterValue& value) {
    const double power = std::norm(value.h);
    // d(H'/H) = -H' dH / H^2.
    const double error = value.floor * size_of(value.slope) / power;
    return power > 0 && error <= tolerable_delay_error_samples
               ? -std::imag(value.slope * std::conj(value.h)) / power
               : std::numeric_limits<double>::quiet_NaN();
}

double Prober::level_db(const CirclePoint& at) const {
    return syntonon::level_db(value(at));
}

double rise_of(const FilterValue& value, bool around_peak) {
    const double rise = std::real(times(value.slope, std::conj(value.h)));
    const double power = std::norm(value.h);
    return around_peak ? rise / (power * power) : rise;
}

namespace {

double phase_rad(const FilterValue& here, const CirclePoint& at, Side side) {
    const bool from_below = at.hz > 0 && (side == Side::below || at.is_end());
    const double phase = size_of(here.h) > here.floor ? std::arg(here.h)
                         : from_below                 ? std::arg(-here.slope)
                                                      : std::arg(here.slope);
    return std::isnan(phase) ? 0 : phase; // of what is beyond all numbers none can be told
}

} // namespace

double Prober::phase_rad(const CirclePoint& at, Side side) const {
    return syntonon::phase_rad(value(at), at, side);
}

double Prober::group_delay_samples(const CirclePoint& at) const {
    return syntonon::group_delay_samples(value(at));
}

ResponsePoint Prober::response(const CirclePoint& at) const {
    return {level_db(at), phase_rad(at, Side::above), group_delay_samples(at)};
}

ResponsePoint response_of(const FilterValue& value, const CirclePoint& at) {
    return {level_db(value), phase_rad(value, at, Side::above), group_delay_samples(value)};
}

Probe::Probe(const Filter& filter, const Axis& axis) : prober_(filter.prober()), axis_(axis) {}

} // namespace syntonon
