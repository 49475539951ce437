// How each frequency of an impulse response dies away.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/impulse_response.h"
#include "core/design/watch.h"

#include <vector>

namespace syntonon {

struct WaterfallPlan {
    double to_s = 0.2; // after the arrival; the first slice begins there
    int slices = 30;
    double rise_s = 0.002; // over which each slice fades in, as half a Hann window
    double low_hz = 20, high_hz = 20'000;
    double points_an_octave = 24; // each the mean power of as much of the axis
};

struct Waterfall {
    std::vector<double> time_s, frequency_hz;  // of slices and points
    std::vector<std::vector<double>> level_db; // by slices; of the greatest of all, -120 at least
};

// The spectrum of what is left from each time on: the cumulative spectral decay (J. M. Berman and
// L. R. Fincham, The application of digital techniques to the measurement of loudspeakers, J. Audio
// Eng. Soc. 25, 1977). Empty of silence and when the watch is stopped. What lies above half the
// rate is left out.
Waterfall waterfall_of(const ImpulseResponse& impulse, const WaterfallPlan& plan = {},
                       const Watch& watch = {});

} // namespace syntonon
