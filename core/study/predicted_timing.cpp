// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/predicted_timing.h"

#include "core/base/units.h"
#include "core/curve/curve_delay.h"

namespace syntonon {
namespace {

// In the place of its level, so that one reader serves both.
Curve delay_curve(const Curve& curve) {
    Curve delay;
    delay.frequency_hz = curve.frequency_hz;
    delay.magnitude_db = group_delay_s(curve);
    delay.magnitude_db.resize(delay.frequency_hz.size());
    return delay;
}

} // namespace

MeasuredTiming::MeasuredTiming(const Curve& curve) : phase_(curve), delay_(delay_curve(curve)) {}

std::optional<MeasuredTiming::At> MeasuredTiming::at(double hz) const {
    if (!phase_.covers(hz)) {
        return std::nullopt;
    }
    return At{rad_from_deg(phase_.phase_deg_at(hz)), delay_.magnitude_db_at(hz)};
}

Trace predicted_timing(const Trace& chain, const MeasuredTiming& measured, double sample_rate_hz) {
    Trace made;
    for (std::size_t i = 0; i < chain.frequency_hz.size(); ++i) {
        const auto own = measured.at(chain.frequency_hz[i]);
        if (!own) {
            continue;
        }
        made.frequency_hz.push_back(chain.frequency_hz[i]);
        made.response.magnitude_db.push_back(chain.response.magnitude_db[i]);
        made.response.phase_rad.push_back(chain.response.phase_rad[i] + own->phase_rad);
        made.response.group_delay_samples.push_back(chain.response.group_delay_samples[i]
                                                    + own->group_delay_s * sample_rate_hz);
    }
    return made;
}

} // namespace syntonon
