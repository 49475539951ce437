// What state-variable filters are built of, and their knobs. It needs nothing but the standard
// library, since what instruments are given is this text.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>

namespace syntonon::modelled {

enum class StateVariableResponse {
    low,
    band, // 1 at the set frequency, but for what resonance adds
    high,
    notch,
    peak, // by its gain at the set frequency
    all_pass,
    low_shelf, // half the gain in dB at the set frequency
    high_shelf
};

inline constexpr std::size_t most_in_series = 4;

// What does not change while it sounds.
struct StateVariableBuild {
    StateVariableResponse response = StateVariableResponse::low;
    bool saturating = false; // what goes in, before anything else
    bool prewarped = true;
    std::size_t in_series = 1; // up to most_in_series
    std::size_t doublings = 0; // of the rate, up to 3

    bool operator==(const StateVariableBuild&) const = default;
};

// What does. Drive: how far up the bend of what saturates the signal lies; small signals come out
// as they would without.
struct StateVariableKnobs {
    double frequency_hz = 1000, resonance = 0, gain_db = 0, drive_db = 0;

    bool operator==(const StateVariableKnobs&) const = default;
};

} // namespace syntonon::modelled
