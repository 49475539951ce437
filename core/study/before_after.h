// What a channel's chain makes of what was measured: at each position and together, before and
// after, over frequency and in time.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"
#include "core/goal/target_curve.h"
#include "core/study/measured.h"

#include <string>
#include <vector>

namespace syntonon {

struct BeforeAfter {
    // One position, or all of them together. Levels stand at `hz` and are averaged
    // in dB over `width_oct`; NaN where nothing was measured. Impulse responses stand at `seconds`,
    // as shares of the greatest magnitude before the chain, faded over half an octave at the ends
    // of what was measured; empty without phase. The step response is their running sum.
    struct Place {
        std::string name;
        std::vector<double> before_db, after_db;
        std::vector<double> impulse_before, impulse_after;
    };
    std::vector<double> hz;
    double width_oct = 0;
    // Time 0 is the greatest sample of what the positions agree on, before the chain and behind it;
    // that is later by so much.
    std::vector<double> seconds;
    double later_s = 0;
    std::vector<double> target_db; // at `hz`; NaN in gaps; empty: there is none
    Place together; // level: as the channel averages; in time: what the positions agree on
    std::vector<Place> positions; // more than one only
};

// `from_s` (not positive) to `to_s` in time.
struct BeforeAfterWindow {
    double width_oct = 1.0 / 6;
    double from_s = -0.01, to_s = 0.04;
};
BeforeAfter before_after_of(const Measured& measured, const Filter& chain, const Axis& axis,
                            const TargetCurve* target = nullptr,
                            const BeforeAfterWindow& window = {});

std::vector<double> running_sum(const std::vector<double>& impulse);

} // namespace syntonon
