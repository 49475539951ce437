// What a stage was fitted to, and whether that still holds.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/fit/correction_aim.h"

#include <optional>
#include <span>
#include <string>
#include <vector>

namespace syntonon {

// A digest of the settings of a fit and of what it aimed for, and the aim itself, about every
// twelfth of an octave in hundredths of a dB and tenths of a degree, so that later one can say by
// how much it has changed.
struct FittedTo {
    std::string digest;
    std::vector<double> aim_db, aim_deg; // the latter only where the phase counts
};

// Parallel; the phase is empty where it does not count.
struct AimToNote {
    std::span<const double> hz, gain_db, phase_rad;
};
FittedTo fitted_to(const std::string& settings, const AimToNote& aim);

struct OutOfDate {
    bool by_settings = false; // they are others than those it was fitted with
    double most_db = 0;       // by which the aim has changed, at its worst place
    double worst_hz = 0;
    bool by_phase = false; // the gain holds, but the phase that is aimed for has changed
    double most_deg = 0;

    // "out of date: 1.4 dB at 63 Hz", "out of date: 30° at 63 Hz", "out of date: other settings"
    std::string text() const;
};

// Nothing where settings and aim are the same, but for rounding.
std::optional<OutOfDate> out_of_date(const std::string& settings, const FittedTo& then,
                                     const AimToNote& now);

// A correction's.
void note_fitted_to(CorrectionSpec& spec, const CorrectionAim& aim);
// Nothing also for one that was never fitted.
std::optional<OutOfDate> out_of_date(const CorrectionSpec& spec, const CorrectionAim& now);

} // namespace syntonon
