// What taps of several phases answer in time, and how much of it comes before it should.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/design/watch.h"

#include <span>
#include <vector>

namespace syntonon {

enum class TimeSignal { impulse, step, burst };

struct ToneBurst {
    double frequency_hz = 1000;
    int cycles = 8; // from a zero crossing on, ending as suddenly

    std::vector<double> samples(double sample_rate_hz) const;
};

// What can be heard before the answer's onset. In samples: from the first one within 60 dB of the
// answer's greatest (of a step: of its final value) up to the onset; empty where there is none.
struct PreRingingRegion {
    double from = 0, to = 0;
    // Against all energy; of a step against the final value for as long. -infinity: nothing is.
    double energy_db = 0;
    double greatest_db = 0; // against the answer's greatest, or the final value

    bool is_empty() const { return !(from < to); }
};

struct TimeForm {
    double share = 0.5; // as in phase_form.h
    std::vector<double> taps = {}, answer = {};
    // Of impulse and step: where the main lobe around the greatest tap begins. Of a burst: its
    // beginning, later by the group delay at its frequency.
    double onset = 0;
    PreRingingRegion before = {};
};

// As far as it lasts: of a step so many taps more as there are.
TimeForm time_form(std::vector<double> taps, TimeSignal signal, const ToneBurst& burst,
                   double sample_rate_hz);

// Of the same magnitude, one for each share; without shares of the taps as they are. Refuses what
// with_phase refuses, and a burst whose frequency is not between 0 Hz and half the rate or that is
// longer than 2^20 samples
// ("frequency_hz").
Expected<std::vector<TimeForm>> time_forms(std::span<const double> taps,
                                           std::span<const double> shares, TimeSignal signal,
                                           const ToneBurst& burst, double sample_rate_hz,
                                           const Watch& watch);

} // namespace syntonon
