// How fast sound dies away in a room.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/impulse_response.h"

#include <optional>
#include <vector>

namespace syntonon {

// The energy that is still to come, in dB below all of it, at every sample from the arrival on
// (M. R. Schroeder, New method of measuring reverberation time, JASA 37, 1965). Noise would bend
// it: it is taken to be what the last tenth holds, the integral ends where the decay meets it, and
// what an even decay would still add is put behind (A. Lundeby, T. E. Vigran, H. Bietz and M.
// Vorlaender, Uncertainties of measurements in room acoustics, Acustica 81, 1995).
struct DecayCurve {
    double sample_rate_hz = 48'000;
    std::vector<double> level_db;
    double noise_db = 0; // of a sample's power, below the greatest of the smoothed decay
};
// Empty of silence.
DecayCurve decay_of(const ImpulseResponse& impulse);

// Seconds for 60 dB by the straight line that fits best between two levels (ISO 3382-1:2009, 5.3).
// Nothing where the curve does not reach the lower one.
std::optional<double> decay_time_s(const DecayCurve& curve, double from_db, double to_db);

struct DecayTimes {
    double centre_hz = 0;                        // of an octave band; 0: of all
    std::optional<double> early_s, t20_s, t30_s; // from 0 to -10, -5 to -25, -5 to -35 dB
};
// Of everything and of the octaves about 63 Hz to 16 kHz that lie below half the rate. The bands
// are cut out without delay, with edges as steep as a Butterworth band-pass of order 6 run both
// ways has them.
std::vector<DecayTimes> decay_times(const ImpulseResponse& impulse);

// What the response holds of a band, `octaves` wide.
ImpulseResponse band_of(const ImpulseResponse& impulse, double centre_hz, double octaves);

} // namespace syntonon
