// Whether a filter's answer dies away, and how far its loops are from not doing so.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/filter/axis.h"

#include <limits>
#include <optional>

namespace syntonon {

class Filter;
struct Loop;

// Of a loop with the open-loop gain L = factor * F * R, critical at L = 1. Frequencies are in turns
// per sample (Hz by sample rate), those of analog loops in Hz.
struct LoopMargin {
    // The gain may be multiplied by up to `most_gain` (infinity: by any), and by no less than
    // `least_gain` (0: by any) where it is the gain that keeps it stable. Of an unstable loop the
    // largest L at a critical phase, as 1 / L: below 1.
    double most_gain = std::numeric_limits<double>::infinity();
    double least_gain = 0;
    double most_gain_turns = 0, least_gain_turns = 0;
    // By how much L may be turned, either way, where it is 1 in size; nothing: it nowhere is.
    std::optional<double> phase_rad;
    double phase_turns = 0;
};

inline double hz_of_turns(double turns, const Axis& axis) {
    return axis.is_analog() ? turns : turns * axis.sample_rate_hz;
}

struct Stability {
    int poles_outside = 0; // of the circle (right of the imaginary axis), or on it; more may be
                           // hidden where the first are
    std::optional<LoopMargin> margin; // of its tightest loop; nothing without loops

    bool is_stable() const { return poles_outside == 0; }
};

// Counts the poles that are known as such and, for loops, how often 1 - L goes round 0 while z goes
// round the circle (H. Nyquist, Regeneration theory, Bell Syst. Tech. J. 11, 1932; the count is the
// argument principle). No gain is enough to tell: L = -3 of a first-order low-pass is stable, L = 3
// is not. Where |L| < 1 the way of 1 - L is known to stay right of 0, and where |L| > 1 that of
// 1 - 1/L is, so that the turns are those of L itself between its crossings of 1: a delay of any
// length costs nothing. Refused where what goes round the loop cannot be followed so far.
Expected<Stability> stability_of(const Filter& filter);
Expected<Stability> stability_of(const Loop& loop);

// The factors around 0 with which the loop is stable, whatever its own is: low < 0 < high, infinite
// where any will do. Refused where it is not stable with a factor of 0, and as above.
struct FactorRange {
    double low = -std::numeric_limits<double>::infinity();
    double high = std::numeric_limits<double>::infinity();
};
Expected<FactorRange> stable_factors(const Loop& loop);

} // namespace syntonon
