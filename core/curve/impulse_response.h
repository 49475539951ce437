// An impulse response as it was measured or imported.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <vector>

namespace syntonon {

struct ImpulseResponse {
    double sample_rate_hz = 48000;
    std::vector<double> samples;
    // Of the first sample, in samples after time 0: what a clock that both sides share calls so.
    // Negative where it lies before.
    std::ptrdiff_t begins_at = 0;

    bool operator==(const ImpulseResponse&) const = default;
    double seconds_of(std::size_t sample) const {
        return (static_cast<double>(begins_at) + static_cast<double>(sample)) / sample_rate_hz;
    }
};

} // namespace syntonon
