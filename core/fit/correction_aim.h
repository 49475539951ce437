// What a correction aims for, before any filter is looked for: how much gain at each frequency, and
// how far that frequency can be corrected at all.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/correction.h"

#include <vector>

namespace syntonon {

// All but the positions are parallel to `hz`.
struct CorrectionAim {
    std::vector<double> hz;        // the range in equal ratios, both ends included
    std::vector<double> seen_db;   // the set behind the stages above, averaged in dB
    std::vector<double> target_db; // 0 where nothing is asked: the weight is 0, too
    std::vector<double> weight;    // of an error
    // Of a boost, 0 to 1: how far the frequency can be corrected. Less where positions differ and
    // in narrow dips: with s the standard deviation of the positions' levels (each about its own
    // mean over the range) and d the depth below the mean of an octave,
    // 1 / (1 + (s / spread_db)^2) / (1 + (d / dip_db)^2).
    std::vector<double> correctable;
    // target - seen, a boost times `correctable`, within the limits: what the fit follows.
    std::vector<double> gain_db;

    // As seen_db, each position by itself, raised so that its mean over the range is that of
    // seen_db: a common filter can change no position's level against the others'.
    std::vector<std::vector<double>> positions_db;
    std::vector<double> position_weights;

    std::size_t size() const { return hz.size(); }
};

// Refused: without a measured set or a target in the range ("from_hz"), outside of what was
// measured ("from_hz", "to_hz"), with a silent position ("measured[2]"), with settings that
// contradict one another, on an analog channel.
Expected<CorrectionAim> correction_aim(const CorrectionSpec& spec, const Brief& brief);
// The same with other weights of the positions, all of them together the mean of their levels.
void aim_at_positions(const CorrectionSpec& spec, const std::vector<double>& weights,
                      CorrectionAim& aim);

} // namespace syntonon
