// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/probe.h"

#include "core/base/units.h"
#include "core/filter/filter.h"

#include <cmath>
#include <limits>

namespace syntonon {
namespace {

constexpr double tolerable_delay_error_samples = 1e-3;

} // namespace

double level_db(const FilterValue& value) {
    const double size = std::abs(value.h);
    return size > value.floor ? db_from_ratio(size) : -std::numeric_limits<double>::infinity();
}

double group_delay_samples(const FilterValue& value) {
    const double power = std::norm(value.h);
    // d(H'/H) = -H' dH / H^2.
    const double error = value.floor * std::abs(value.slope) / power;
    return power > 0 && error <= tolerable_delay_error_samples
               ? -std::imag(value.slope * std::conj(value.h)) / power
               : std::numeric_limits<double>::quiet_NaN();
}

double Prober::level_db(const CirclePoint& at) const {
    return syntonon::level_db(value(at));
}

double Prober::phase_rad(const CirclePoint& at, Side side) const {
    const FilterValue here = value(at);
    if (std::abs(here.h) > here.floor) {
        return std::arg(here.h);
    }
    const bool from_below = at.hz > 0 && (side == Side::below || at.is_end());
    return std::arg(from_below ? -here.slope : here.slope);
}

double Prober::group_delay_samples(const CirclePoint& at) const {
    return syntonon::group_delay_samples(value(at));
}

Probe::Probe(const Filter& filter, double sample_rate_hz)
    : prober_(filter.prober()), sample_rate_hz_(sample_rate_hz) {}

} // namespace syntonon
