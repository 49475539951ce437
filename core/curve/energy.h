// How the energy of an impulse response is spread over time.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/impulse_response.h"

#include <cstddef>
#include <vector>

namespace syntonon {

struct EnergyOverTime {
    double from_s = 0, step_s = 0;
    std::vector<double> level_db; // of the greatest; -120 at least
};
// The mean power about each place under a Hann window of that length, at so many places from the
// first to the last sample.
EnergyOverTime energy_over_time(const ImpulseResponse& impulse, double window_s,
                                std::size_t places);

// ISO 3382-1:2009, A.2.4 and A.2.5: from the arrival on, energy before 50 and 80 ms over that after
// them in dB, the share before 50 ms, and the energy's middle in time.
struct EarlyAndLate {
    double clarity_50_db = 0, clarity_80_db = 0;
    double definition = 0; // 0 to 1
    double centre_s = 0;
};
EarlyAndLate early_and_late(const ImpulseResponse& impulse);

} // namespace syntonon
