// Curves averaged over a part of the frequency axis.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/curve.h"

namespace syntonon {

enum class SmoothingKind {
    octave,         // as wide everywhere, in octaves
    by_frequency,   // finer below, where rooms have modes, and coarser above
    erb,            // as wide as the ear's filters: their equivalent rectangular bandwidth
    psychoacoustic, // as erb, but what stands above it for a third of it stays: peaks are heard,
                    // narrow dips are not
};

struct Smoothing {
    SmoothingKind kind = SmoothingKind::octave;
    double width_oct = 0;    // of `octave` only; 0 averages nothing
    bool of_vectors = false; // the level, too, is that of the complex mean

    bool operator==(const Smoothing&) const = default;
    bool is_none() const { return kind == SmoothingKind::octave && width_oct == 0; }
};

// Of the window about a frequency, in octaves. By frequency: 1/48 up to 100 Hz, 1/6 at 1 kHz, 1/3
// from 10 kHz on, straight between in the logarithms of both. ERB: 24.7 Hz (4.37 f / kHz + 1) (B.
// R. Glasberg and B. C. J. Moore, Derivation of auditory filter shapes from notched-noise data,
// Hear. Res. 47, 1990), half of it to each side.
double width_oct_at(const Smoothing& smoothing, double hz);

// At each frequency the mean power over the window, over log frequency, of the curve taken as
// straight in dB over log frequency: smoothing with a rectangular window (Hatziantoniou and
// Mourjopoulos, "Generalized fractional-octave smoothing of audio and acoustic responses", J. Audio
// Eng. Soc. 48(4), 2000). The phase is that of the mean of the complex response (their complex
// smoothing), wrapped. At its ends the window is cut off with the curve. `points_an_octave` equally
// spaced frequencies of the result, and both ends; without smoothing its values there.
Curve smoothed(const Curve& curve, const Smoothing& smoothing, double points_an_octave);

} // namespace syntonon
