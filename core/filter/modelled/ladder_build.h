// What a ladder is built of, and its knobs. It needs nothing but the standard library, since what
// instruments are given is this text.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>

namespace syntonon::modelled {

enum class LadderType { transistor, diode };

enum class LadderResponse {
    low_24, // falls by 24 dB/octave
    low_18,
    low_12,
    low_6,
    band_24, // falls by 12 dB/octave to either side
    band_12,
    high_24,
    high_12,
    notch,
    all_pass // at any resonance
};

// What does not change while it sounds.
struct LadderBuild {
    LadderType type = LadderType::transistor;
    LadderResponse response = LadderResponse::low_24;
    bool saturating = true;
    bool prewarped = true;
    double bass_compensation = 0; // 0 to 1: of what the feedback takes of low frequencies
    std::size_t doublings = 1;    // of the rate, up to 3

    bool operator==(const LadderBuild&) const = default;
};

// What does. Drive: how far up the stages' bend the signal lies; small signals come out as they
// would without.
struct LadderKnobs {
    double frequency_hz = 1000, resonance = 0, drive_db = 0;

    bool operator==(const LadderKnobs&) const = default;
};

} // namespace syntonon::modelled
