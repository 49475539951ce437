// What a chain answers to an impulse and a step, long enough to have died away.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/filter/filter.h"

#include <optional>
#include <vector>

namespace syntonon {

// An impulse response. Of an analog chain the differences of its step response at times so close
// together that hardly anything happens between them: what is said of samples below holds of these.
struct TimeAnswer {
    std::vector<double> impulse;
    double rate_hz = 0; // of these samples
};

// Until the slowest pole has fallen by 140 dB. Refused for an unstable chain, for one whose poles
// are not known and for one that rings longer than 2^19 samples.
Expected<TimeAnswer> settled_impulse_response(const Filter& chain, const Axis& axis);

// In samples, until r^n has fallen by fall_db.
double decay_samples(double radius, double fall_db);

// Energy before the main peak (the largest magnitude, the first of equals), in dB against all
// energy; -infinity when there is none.
double pre_ringing_db(const std::vector<double>& impulse);
// From the first sample that is at least threshold_db against the main peak, to the peak.
double pre_ringing_samples(const std::vector<double>& impulse, double threshold_db);

// Of the step response: its last value counts as final. Settling: the first sample from which on it
// stays within `part` of the final value, or of 1 where the final value is 0 (1e-6 of the
// greatest).
double settling_samples(const std::vector<double>& impulse, double part);
// (greatest - final) / final, 0 or more; nothing where the final value is 0.
std::optional<double> overshoot(const std::vector<double>& impulse);

} // namespace syntonon
