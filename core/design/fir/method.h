// What every method of designing an FIR is given and hands back.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/classical.h"
#include "core/design/design.h"
#include "core/design/fir/bands.h"

#include <string>
#include <vector>

namespace syntonon {

// A method is a struct with `key` and `title` and
//   Expected<FirMade> made(const Method&, const FirTask&);
struct FirTask {
    std::size_t length; // in taps, at least 1
    const FirWish& wish;
    const Brief& brief;
    const Watch& watch;
};

struct FirMade {
    std::vector<double> taps;
    std::string source;                  // of the equations
    std::vector<WorkingStep> steps = {}; // how it came about
    std::string note = {};
    std::vector<double> marked_hz = {}; // where the error is greatest
    WorkingCurve window = {};           // what the taps were weighted with
};

// Even: h[n] = h[N-1-n]. Odd: h[n] = -h[N-1-n], and the gain is times j.
enum class FirSymmetry { even, odd };

inline double middle_of(std::size_t length) {
    return (static_cast<double>(length) - 1) / 2;
}

// Refuses a length that is out of range, saying the method's most.
Expected<void> check_length(std::size_t length, std::size_t most);
// Refuses a delay that is not within the taps.
Expected<void> check_delay(double delay_samples, std::size_t length);

// What the bands or the goal ask for at all frequencies; about the middle within the reach of taps
// with even symmetry.
Expected<std::vector<LinePiece>> joined_wish(const FirTask& task, double delay_samples);

// Gains and greatest errors that tolerances of a band allow, as pieces: an error of 1, weighted,
// meets them all exactly. The order in Hz is checked as for classical filters.
Expected<Amplitude> amplitude_of(const Tolerances& tolerances, ClassicalBand band,
                                 double sample_rate_hz);

} // namespace syntonon
