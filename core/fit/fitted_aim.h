// What a recursive fit aims for, before any root is looked for.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/fit/fitted.h"
#include "core/fit/recursive/joint_delays.h"
#include "core/fit/recursive/joint_roots.h"

#include <optional>

namespace syntonon {

// The level (and phase) that the filter itself should have: target less what is seen, or less
// nothing, less the stages above; parallel to `hz`, places that are alike far apart on the spec's
// axis. Where the goal asks nothing the weight is 0.
//
// `response.phase_rad` is empty where only the level counts; where only the delay or the phase
// does, the level is 0 dB everywhere and the phase what the delay comes to.
struct FittedAim {
    ResponseAim response;
    std::optional<DelayAim> delay; // of `match: delay` and `match: phase`
    std::vector<double> impulse;   // of `match: impulse`, from its first sample that counts on
    std::size_t impulse_delay = 0; // of the stages above: samples of 0 before that
};

// A delay is the goal's target of it less that of the stages above; without such a target it shall
// only be the same everywhere. Refused: without a target in the range ("target"), outside of what
// was measured or at or above half the sample rate ("from_hz", "to_hz"), with a phase that counts
// where none is stated ("match"), an impulse response that is silent or of another sample rate
// ("curve"), stages above that are unstable, with settings that contradict one another, on an
// analog channel. The brief is a fit's (Briefs::fit_brief), the spec's own target in place of the
// goal's where it has one.
Expected<FittedAim> fitted_aim(const FittedSpec& spec, const Brief& brief);

// The places of a fit's axis between two frequencies, both included.
std::vector<double> places_on_axis(const FittedSpec& spec, double sample_rate_hz,
                                   std::size_t count);

} // namespace syntonon
