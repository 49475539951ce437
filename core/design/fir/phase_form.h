// The same magnitude with another phase.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/design/watch.h"

#include <cstddef>
#include <span>
#include <vector>

namespace syntonon {

// The taps of that length whose magnitude comes nearest to one given at w = 2 pi k / L, k = 0 ..
// L/2, L even, and whose phase lies between minimum (share 0) and maximum (share 1) phase; at 1/2
// it is linear. By the cepstrum: the logarithm's part before time 0 is left out, or counted by the
// share (A. V. Oppenheim and R. W. Schafer, Discrete-Time Signal Processing, 3rd ed.,
// section 13.5). What would come after the length is cut off. Magnitudes below 1e-15 of the
// greatest count as that.
// Zeros on the circle (circle_zeros.h), where the logarithm has poles, are set aside and put back
// with their signs: they belong to every phase alike.
std::vector<double> taps_of_magnitude(std::span<const double> magnitude, std::size_t length,
                                      double share, std::span<const double> zeros_w = {});

struct PhaseForm {
    std::vector<double> taps;
    std::size_t fft_length = 0; // of the cepstrum; 0: by roots
    double error_db = 0; // greatest change of level where it is within 100 dB of the greatest
};

// Taps of the same length and magnitude. Minimum and maximum phase of up to `most_by_roots` taps by
// their zeros, those outside the circle mirrored into it, or the other way; of more, and between,
// by the cepstrum over a transform that grows until the level is kept to 0.0001 dB or it is 4
// million long. Refuses taps that are all 0; stopped().
inline constexpr std::size_t most_by_roots = 65;
Expected<PhaseForm> with_phase(std::span<const double> taps, double share, const Watch& watch);

// How early it can be heard that something is to come.
struct PreRinging {
    double energy_db = 0; // of what is before the greatest tap, against all; -inf: nothing is
    double earliest_samples = 0; // before the greatest tap where a tap first is above the threshold
};
PreRinging pre_ringing(std::span<const double> taps, double threshold_db = -60);

} // namespace syntonon
