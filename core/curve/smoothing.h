// Curves averaged over a part of an octave.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/curve.h"

namespace syntonon {

// At each frequency the mean power over [f 2^(-width/2), f 2^(width/2)], over log frequency, of the
// curve taken as straight in dB over log frequency: fractional-octave smoothing with a rectangular
// window (Hatziantoniou and Mourjopoulos, "Generalized fractional-octave smoothing of audio and
// acoustic responses", J. Audio Eng. Soc. 48(4), 2000). At its ends the window is cut off with the
// curve. `points_an_octave` equally spaced frequencies of the result, and both ends. Phase is left
// out; width 0 returns the curve's levels at those frequencies.
Curve smoothed(const Curve& curve, double width_oct, double points_an_octave);

} // namespace syntonon
