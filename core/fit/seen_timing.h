// The timing of a measured set behind the stages above, as far as its level does not say it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/curve.h"
#include "core/design/brief.h"

#include <vector>

namespace syntonon {

// A measured curve with phase behind the stages above: level and unwrapped phase at its points
// below the axis' end.
Curve behind_stages(const SampledCurve& seen, const Brief& brief);

struct SeenTiming {
    Curve curve;
    // At its points: the excess phase, without the delay that it has in the mean over the range
    // that was asked for, and without the whole and half turns at 0 Hz (of a loudspeaker that is
    // connected the wrong way round).
    std::vector<double> excess_deg;
};

// Refuses a set whose positions have no phase that they agree on, and what phase_parts() does.
Expected<SeenTiming> seen_timing(const Brief& brief, double from_hz, double to_hz);

// Interpolated over log frequency between ascending places; at the ends as there.
double at_hz(const std::vector<double>& hz, const std::vector<double>& values, double at);

} // namespace syntonon
