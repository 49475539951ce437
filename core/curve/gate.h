// What of an impulse response counts, and the response that comes of it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/curve.h"
#include "core/curve/impulse_response.h"

#include <optional>

namespace syntonon {

// Seconds before and after a middle, usually the arrival: nothing until from_s, all between
// full_from_s and full_to_s, nothing from to_s on; half a period of a cosine between (half of a
// Hann window). With `cycles` it is narrower where the frequency is higher: so many of its periods
// to each side, faded in the same way over its outer half.
struct Gate {
    double from_s = -0.005, full_from_s = -0.001;
    double full_to_s = 0.3, to_s = 0.5;
    std::optional<double> cycles;

    bool operator==(const Gate&) const = default;
};

// Refuses, by the field's name, times that do not ascend, and no cycle.
Expected<void> check(const Gate& gate);

double gate_at(const Gate& gate, double s);            // 0 to 1, of all frequencies
double gate_at(const Gate& gate, double s, double hz); // cycles, too

// Below it nothing can be told: one over the time in which the gate is half open and more.
double least_told_hz(const Gate& gate);

// When the sound arrives: of the sample of greatest magnitude, between samples by a parabola
// through its square and its neighbours'. 0 of silence.
double arrival_s(const ImpulseResponse& impulse);

// Level and phase, of a middle taken for time 0: its delay is taken out. Without cycles at every
// bin of the transform within the gate's range and up to half the rate, with cycles at 96
// frequencies an octave. Refuses a gate that holds nothing of the response but silence.
Expected<Curve> gated_response(const ImpulseResponse& impulse, const Gate& gate, double middle_s);

} // namespace syntonon
