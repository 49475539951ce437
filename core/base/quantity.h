// What a person types into a field: a number with a unit, or small arithmetic.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <string_view>

namespace syntonon {

enum class Dimension {
    frequency, // canonical Hz; also kHz, MHz, rad/s, rad/sample, fs (x sample rate), nyquist
    level,     // canonical dB; also ratio (an amplitude ratio)
    time,      // canonical s; also ms, us, samples
    octaves,   // canonical oct
    angle,     // canonical degrees; also deg, rad
    plain      // no unit: Q, slope, counts
};

struct QuantityContext {
    double sample_rate_hz = 48000;
    double current = 0; // the field's value now, in the canonical unit; what "x2" and "/2" act on
};

// Reads `text` into the canonical unit of `dimension`. Understands + - * / ( ), pi, a trailing k or
// M on numbers ("1k"), decimal commas, the units above after the whole expression, and a leading
// "x", "*" or "/" that acts on the current value. A number without a unit is canonical.
// Refuses with the offending part named; never returns NaN or infinity.
Expected<double> parse_quantity(std::string_view text, Dimension dimension,
                                const QuantityContext& context);

} // namespace syntonon
