// How a fit stands: errors without and with what was found.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <optional>
#include <vector>

namespace syntonon {

// An error over the range in dB: the root of the weighted mean square, and the greatest.
struct LevelError {
    double rms_db = 0, worst_db = 0, worst_hz = 0;
};

// An error of the timing over the range: of the phase in degrees, turns aside, or of the group
// delay in ms. The root of the weighted mean square, and the greatest.
struct TimingError {
    double rms = 0, worst = 0, worst_hz = 0;
    bool by_delay = false; // ms
};

struct FitFigures {
    struct Errors {
        LevelError before, after;
    };
    Errors together;               // of what the positions come to
    std::vector<Errors> positions; // each by itself, raised to the level of all
    std::size_t found = 0;         // sections, taps or poles
    struct Timing {
        TimingError before, after;
    };
    std::optional<Timing> timing; // where it is minded
    struct Impulse {
        double energy = 0; // of what is left over, a share of the impulse response's
        double bound = 0;  // of the error of the response, a ratio; 0: none is known
    };
    std::optional<Impulse> impulse; // of a model of one
    // What was found less what was aimed for, in the range: what another such stage would be for;
    // and what comes about where the aim is met.
    std::vector<double> hz, left_over_db, reachable_db;
};

} // namespace syntonon
