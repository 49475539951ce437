// What taps come to in the bands that they are asked for.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/fir/amplitude.h"

#include <optional>
#include <span>

namespace syntonon {

struct BandMeasures {
    // How far the level stays below 0 dB where less than a tenth of the greatest gain is asked for;
    // infinite where there is nothing left.
    std::optional<double> attenuation_db;
    // Greatest less least of |H| against what is asked for elsewhere.
    std::optional<double> ripple_db;
    // The widest gap between pieces of different gain, rad/sample.
    std::optional<double> transition_w;
    double error = 0;         // the greatest, of |H|, times its weight
    double delay_samples = 0; // sum n h^2 / sum h^2
};

// Looked for at 32 places for each tap and at the ends of the pieces. `wanted` by ascending w.
BandMeasures band_measures(std::span<const double> taps, const Amplitude& wanted);

// Of taps that are stated by their edges alone (rad/sample, where the gain is half), ascending and
// beginning in a passband or not: a passband ends where the level leaves its own ripple, a stopband
// begins where it stays below its own lobes. Where it has none the band is missing.
Amplitude natural_bands(std::span<const double> taps, std::span<const double> edges_w,
                        bool begins_with_pass);

} // namespace syntonon
