// From what is seen and wished to the sections or taps that correct it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/correction.h"
#include "core/fit/correction_aim.h"
#include "core/fit/fit_figures.h"
#include "core/fit/fitted_to.h"
#include "core/fit/joint_timing.h"

#include <functional>
#include <optional>
#include <vector>

namespace syntonon {

// What has been found by now, worth showing.
using CorrectionSoFar = std::function<void(const CorrectionSpec&)>;

// The spec with what was found, and what it was fitted to. The brief is what the stage would see:
// the wish, the set, the filter of the stages above. Locked sections stay as they are and count.
// The same spec and brief give the same sections. Stopped by the watch, the best so far is handed
// over. Refuses what correction_aim() and check_settings() do, and at "count" where all sections
// are locked.
Expected<CorrectionSpec> fit(const CorrectionSpec& spec, const Brief& brief, const Watch& watch,
                             const CorrectionSoFar& so_far = {});

// Of what is seen plus a gain (parallel to the aim's places) against the target.
LevelError error_of(const CorrectionAim& aim, const std::vector<double>& seen_db,
                    const std::vector<double>& gain_db);
// Of what was found against the aim's timing; nothing where that does not count.
std::optional<TimingError> timing_error_of(const CorrectionSpec& spec, const CorrectionAim& aim,
                                           double sample_rate_hz);
// The gain of the found sections or taps at the aim's places.
std::vector<double> found_gain_db(const CorrectionSpec& spec, const CorrectionAim& aim,
                                  double sample_rate_hz);

// Whether what it was fitted to still holds; nothing also where it was not fitted yet, or cannot
// be.
std::optional<OutOfDate> out_of_date(const CorrectionSpec& spec, const Brief& brief);
Expected<FitFigures> figures_of_fit(const CorrectionSpec& spec, const Brief& brief);

} // namespace syntonon
