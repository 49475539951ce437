// The level that a channel aims for, as it is stated.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/goal/target_line.h"

#include <string>
#include <string_view>

namespace syntonon {

// A level that rises towards low frequencies and falls towards high ones, straight over log
// frequency, and stays level beyond its limits.
struct HouseCurve {
    double level_db = 0;
    double rise_below_hz = 200, rise_db_per_octave = 1;
    double fall_above_hz = 2000, fall_db_per_octave = 1;
    double low_limit_hz = 20, high_limit_hz = 20000;
    UnknownKeys unknown = {};

    bool operator==(const HouseCurve&) const = default;
};

// The house curve's four corners: the same curve as a line.
TargetLine line_of(const HouseCurve& house);

// A target that follows something else in the study.
struct TargetSource {
    enum class Kind {
        curve,   // a measured or imported one
        channel, // another channel's prediction
        take,    // a take's prediction
        stage    // one stage's own response
    };
    Kind kind = Kind::curve;
    std::string curve;        // its id
    std::string channel;      // of the channel, of the take's or the stage's channel
    std::string take, stage;  // ids within that channel
    double smoothing_oct = 0; // averaged over this many octaves; 0: as it is
    UnknownKeys unknown = {};

    bool operator==(const TargetSource&) const = default;
};

// Where the target's 0 dB lies.
struct LevelAnchor {
    enum class Kind {
        fixed,            // at offset_db
        measured_average, // offset_db over the mean level of the channel's measured curve in a
                          // range
        lowest_measured,  // offset_db over the lowest point, in a range, of the measured curves of
                          // all channels that share the goal
        common_average    // offset_db over the mean, over those channels, of their mean levels in
                          // the range: what correcting them asks of all alike
    };
    Kind kind = Kind::fixed;
    double offset_db = 0;
    double from_hz = 200, to_hz = 2000;
    UnknownKeys unknown = {};

    bool operator==(const LevelAnchor&) const = default;
};

// Stated by points (of the line it is), as a house curve or by a source; never by two of them.
// Stated by none it is 0 dB at all frequencies.
struct Target : TargetLine {
    std::optional<HouseCurve> house;
    std::optional<TargetSource> source;
    LevelAnchor anchor;

    bool operator==(const Target&) const = default;
};

bool is_stated(const Target& target);

// The place is "points[2].magnitude_db", "house.low_limit_hz", "source.smoothing_oct" or
// "anchor.to_hz".
Expected<void> check(const Target& target);

std::string_view key_of(TargetSource::Kind kind); // "curve", "channel", "take", "stage"
std::string_view key_of(LevelAnchor::Kind kind);  // "fixed", "common_average"

} // namespace syntonon
