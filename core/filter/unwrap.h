// The phase of a filter whose roots are not at hand, without jumps.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/grid.h"
#include "core/filter/probe.h"
#include "core/filter/response.h"

#include <vector>

namespace syntonon {

// How far the phase has turned from 0 Hz on, at frequencies so close that nothing turns unseen
// between them; any other frequency is followed from the one below it.
struct PhaseKnot {
    double turns_per_sample; // frequency by sample rate
    double unwrapped_rad, wrapped_rad, delay_samples;
};
inline constexpr Axis analog_knots_axis{1, Domain::analog};
using PhaseKnots = std::vector<PhaseKnot>; // ascending, the first at 0 Hz

// The phase is followed by its derivative, the group delay, in steps that are halved until both
// agree on how often it has turned (J. Tribolet, A new phase unwrapping algorithm, IEEE Trans.
// ASSP-25, 1977).
// Analog filters' knots stand by Hz: they are made on the axis on which that is so. `telling_hz`,
// unsorted, keeps the steps narrower than what could turn once and unnoticed within one. At zeros
// on the circle the phase jumps by pi.
PhaseKnots phase_knots(const Prober& prober, std::vector<double> telling_hz, const Axis& axis);

// Level, phase from 0 Hz on, and delay. Without knots the phase is left wrapped.
Response followed_response(const Prober& prober, const PhaseKnots& knots,
                           const FrequencyGrid& grid);

} // namespace syntonon
