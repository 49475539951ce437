// A curve from what was measured.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/curve.h"
#include "core/curve/gate.h"

namespace syntonon {

// Lets all of it through, however it is long.
Gate whole_of(const ImpulseResponse& impulse, double middle_s);

// When the impulse response of a curve arrives, as its origin has it: by hand or by its peak.
double middle_of(const CurveOrigin& origin);

// A response that came as it is keeps what it was as its origin, so that a microphone can be taken
// out of it; a curve that has an origin stays.
void keep_as_measured(Curve& curve);

// The curve with its points worked out anew: of the impulse response what the gate (null: all)
// lets through, less what the microphone (null: nothing) adds to it. A curve without an origin, and
// one whose file could not be read, stays as it is. A microphone is taken to go on beyond its ends
// as it does there. Refused by the field's name ("gate", "microphone") where nothing comes of it.
Expected<Curve> worked_out(Curve curve, const Gate* gate, const Curve* microphone);

// At most so many points an octave, none of them changed: what is kept of a curve beside a
// reference to its file.
Curve thinned(const Curve& curve, double points_an_octave);

} // namespace syntonon
