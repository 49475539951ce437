// What stands out of a spectrum: bands of noise and lines.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/signal/spectrum.h"

#include <optional>
#include <vector>

namespace syntonon {

struct Hump {
    double from_hz = 0, to_hz = 0; // where it stands half its height (in dB) over its surroundings
    double at_hz = 0;              // its highest bin; of a line the tone between the bins
    double stands_db = 0;          // there, over its surroundings
    // No wider than the spectrum can tell: a tone.
    bool is_line = false;
};

// The surroundings of a frequency are the median of the spectrum within an octave to either side:
// what is narrower than that stands out of it. What stands out by less than least_db is none. By
// how far they stand out, the furthest first.
std::vector<Hump> humps_of(const Spectrum& spectrum, double least_db = 10);

// The one that holds the frequency, or whose peak is nearest within a twelfth of an octave.
std::optional<Hump> hump_at(const std::vector<Hump>& humps, double hz);

// What stands out between two frequencies, whatever its height: over the line between the levels at
// its edges.
Hump hump_between(const Spectrum& spectrum, double from_hz, double to_hz);

} // namespace syntonon
