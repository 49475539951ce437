// What a correction aims for, before any filter is looked for: how much gain at each frequency, and
// how far that frequency can be corrected at all.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/correction.h"

#include <optional>
#include <vector>

namespace syntonon {

// What sections that mind timing aim for, parallel to the places.
struct TimingAim {
    // That they should turn the phase by, unwrapped: to the goal's target of phase (or, by its
    // integral, of group delay) from where the stages above leave it. Without such a target what
    // was measured shall keep the phase that belongs to its level, corrected, and lose the excess:
    // the gain's own phase less the excess phase, averaged over `smoothing_oct`.
    std::vector<double> phase_rad;
    // Of an error: the target's; of a measured phase times the share of the power that the
    // positions agree on.
    std::vector<double> weight;
    bool up_to_a_delay = false; // which is found: nobody stated a phase
};

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
    std::optional<TimingAim> timing; // where the method minds it

    std::size_t size() const { return hz.size(); }
};

// Refused: without a measured set or a target in the range ("from_hz"), outside of what was
// measured ("from_hz", "to_hz"), with a silent position ("measured[2]"), with settings that
// contradict one another, on an analog channel; where timing counts, with a set that has no phase
// and no target of it ("match").
Expected<CorrectionAim> correction_aim(const CorrectionSpec& spec, const Brief& brief);
// What a correction does beyond its range becomes nothing within so many octaves.
inline constexpr double correction_fade_oct = 2;
// The gain in dB that is aimed for at any frequency: the aim's within its range, beyond it that of
// the nearer edge times 1 - octaves / correction_fade_oct.
double wanted_gain_db(const CorrectionAim& aim, double hz);

// The same with other weights of the positions, all of them together the mean of their levels.
void aim_at_positions(const CorrectionSpec& spec, const std::vector<double>& weights,
                      CorrectionAim& aim);

} // namespace syntonon
