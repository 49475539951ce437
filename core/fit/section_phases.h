// The phase of one bell, shelf or all-pass at many frequencies, and how it changes with each of its
// numbers.
//
// By section_levels.h, with theta(x, y) the angle of x + jy:
//     peak:      theta(u, A alpha sin w) - theta(u, alpha sin w / A)
//     shelf:     theta(a, t) - theta(c, t)
//     all-pass:  -2 theta(u, alpha sin w)
// Since every y >= 0, the angles go from 0 at 0 Hz to pi at half the rate and never turn round.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/fit/section_levels.h"

namespace syntonon {

// Adds the section's phase in rad to `phase_rad`, of the grid's size.
void add_phases(const SectionNumbers& section, const FrequencyGrid& grid,
                std::span<double> phase_rad);
// The same, and its derivatives by log2_hz, gain_db and log2_q into `slopes`, each of the grid's
// size.
void add_phases(const SectionNumbers& section, const FrequencyGrid& grid,
                std::span<double> phase_rad, const std::array<std::span<double>, 3>& slopes);

} // namespace syntonon
