// What harmonics a loudspeaker adds.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/unknown_keys.h"

#include <cstddef>
#include <vector>

namespace syntonon {

struct Deconvolved;
struct SweepPlan;

// Of one order, 2 and up.
struct HarmonicLevels {
    int order = 2;
    std::vector<double> frequency_hz; // that was played; ascending
    std::vector<double> level_db;     // against the response at that frequency
    std::vector<double> noise_db;     // what the noise alone would make of it, the same way
    UnknownKeys unknown = {};

    bool operator==(const HarmonicLevels&) const = default;
};

// Of a recorded sweep: what each order left (Deconvolved::harmonics), at the order's multiple of
// the frequency, over the response at the frequency itself, both as mean power of a sixth of an
// octave; as far up as the sweep reached. The noise is that at the recording's end; where the room
// still rings there it is less. Orders that cannot be told apart are left out.
std::vector<HarmonicLevels> harmonic_levels(const Deconvolved& made, const SweepPlan& plan);

// Whether at that place of its frequencies there is nothing but noise to within 3 dB.
bool is_noise(const HarmonicLevels& order, std::size_t at);

// The power of all orders together that are no noise, as a level against the response: total
// harmonic distortion. At the first order's frequencies, of the orders that reach them; -infinity
// where all is noise.
std::vector<double> all_harmonics_db(const std::vector<HarmonicLevels>& orders);

} // namespace syntonon
