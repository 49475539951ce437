// What a correction was fitted to, and whether that still holds.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/fit/correction_aim.h"

#include <optional>
#include <string>
#include <vector>

namespace syntonon {

// Writes into the spec what it is fitted to: a digest of its settings and of the aim, and the aim
// itself, every twelfth of an octave in hundredths of a dB, so that later one can say by how much
// it has changed.
void note_fitted_to(CorrectionSpec& spec, const CorrectionAim& aim);

struct OutOfDate {
    bool by_settings = false; // they are others than those it was fitted with
    double most_db = 0;       // by which the aim has changed, at its worst place
    double worst_hz = 0;
    bool by_phase = false; // the gain holds, but the phase that is aimed for has changed
    double most_deg = 0;

    // "out of date: 1.4 dB at 63 Hz", "out of date: 30° at 63 Hz", "out of date: other settings"
    std::string text() const;
};

// Nothing for one that is up to date, was never fitted, or whose aim has changed by rounding only.
std::optional<OutOfDate> out_of_date(const CorrectionSpec& spec, const CorrectionAim& now);

} // namespace syntonon
