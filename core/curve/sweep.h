// The exponential sweep that responses are measured with.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <cstddef>
#include <vector>

namespace syntonon {

// x(t) = sin(2 pi f1 t1 (e^(t / t1) - 1)), t1 = T / ln(f2 / f1): each octave takes equally long, so
// that what a harmonic of order n leaves stands t1 ln n before the response itself (A. Farina,
// Simultaneous measurement of impulse response and distortion with a swept-sine technique, AES
// 108th Convention, 2000). f1 t1 is a whole number, which keeps the phases of the harmonics right
// (A. Novak, P. Lotton and L. Simon, Synchronized swept-sine, J. Audio Eng. Soc. 63, 2015); the
// length is a little other than asked for because of that.
struct SweepPlan {
    double from_hz = 10;
    double to_hz = 22'000;
    double length_s = 10;
    double sample_rate_hz = 48'000;
    double peak_db = -6;
    double lead_in_s = 0.5;  // of silence before
    double lead_out_s = 2.5; // and behind it: as long as the room rings
    int repeats = 1;         // sweeps, each with the silence behind it

    bool operator==(const SweepPlan&) const = default;
};

// Refuses, by the field's name, a range that does not ascend or reaches beyond half the rate,
// less than 0.1 s or more than 120 s, silence that is negative or longer than 60 s, a peak above 0,
// less than 1 or more than 64 repeats.
Expected<void> check(const SweepPlan& plan);

double octave_time_s(const SweepPlan& plan);              // t1 ln 2
double harmonic_lead_s(const SweepPlan& plan, int order); // t1 ln n; 0 of the first order

// The sweep alone; it fades in within its first sixth of an octave and out within its last 24th.
std::vector<double> sweep_samples(const SweepPlan& plan);
// By how much the sweep is faded out when it passes a frequency: 1 up to its last 24th of an
// octave, 0 from its end on.
double faded_out_at(const SweepPlan& plan, double hz);
std::size_t sweep_length_samples(const SweepPlan& plan); // of the sweep alone
std::size_t lead_in_samples(const SweepPlan& plan);
std::size_t period_samples(const SweepPlan& plan); // from one sweep's begin to the next one's
// What is played: silence, and as often as it is repeated sweep and silence.
std::vector<double> played_samples(const SweepPlan& plan);
// Convolved with the sweep: a unit impulse, band-limited, at its last sample. The sweep backwards,
// falling by 6 dB each octave upwards (Farina).
std::vector<double> inverse_filter(const SweepPlan& plan);

} // namespace syntonon
