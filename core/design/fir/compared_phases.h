// The forms that an FIR's phase can have, side by side.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/fir/phase_form.h"

#include <span>
#include <vector>

namespace syntonon {

struct PhaseFacts {
    double share = 0.5;     // as in phase_form.h
    double greatest_at = 0; // the place of the greatest tap, in samples
    double mean_delay = 0;  // sum n h^2 / sum h^2: the group delay, weighted by energy
    PreRinging before = {}; // of the greatest tap
    double error_db = 0;    // as in PhaseForm
    std::vector<double> taps{};
};

// Of the taps as they are; the share is left to who knows it.
PhaseFacts phase_facts(std::span<const double> taps);

// One for each share. Refuses what with_phase refuses.
Expected<std::vector<PhaseFacts>>
compared_phases(std::span<const double> taps, std::span<const double> shares, const Watch& watch);

} // namespace syntonon
