// The phase of a filter whose roots are not at hand, without jumps.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/grid.h"
#include "core/filter/probe.h"

#include <vector>

namespace syntonon {

// At each grid point, from 0 Hz on: the phase is followed by its derivative, the group delay, in
// steps that are halved until both agree on how often it has turned (J. Tribolet, A new phase
// unwrapping algorithm, IEEE Trans. ASSP-25, 1977). At zeros on the circle it jumps by pi.
std::vector<double> unwrapped_phase_rad(const Prober& prober, const FrequencyGrid& grid);

} // namespace syntonon
