// How the lanes show: units, scales, which lanes. Not part of a study.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/goal/requirement.h"

#include <QString>
#include <array>

namespace syntonon {

// The order in which they stand above one another.
enum class Lane { magnitude, weight, phase, delay, roots };
inline constexpr std::array all_lanes = {Lane::magnitude, Lane::weight, Lane::phase, Lane::delay,
                                         Lane::roots};
inline constexpr std::size_t lane_count = all_lanes.size();

enum class AxisUnit { hz, rad_per_s, rad_per_sample, of_sample_rate, of_nyquist };
// One-sided; or, for teaching, from -Nyquist to Nyquist; or on to the sample rate, where the
// response of a real filter comes back mirrored.
enum class FrequencySpan { to_nyquist, two_sided, mirrored };
enum class LevelScale { db, ratio, linear_ratio };
enum class DelayKind { group, phase };
enum class RootWidth { decay, bandwidth }; // what the roots lane writes at its side

struct LaneView {
    AxisUnit frequency_unit = AxisUnit::hz;
    bool linear_frequency = false;
    FrequencySpan span = FrequencySpan::to_nyquist;
    LevelScale level = LevelScale::db;
    bool radians = false;
    bool unwrapped = false;
    bool marks = true; // of a network's notches and peaks
    DelayKind delay = DelayKind::group;
    TimeUnit delay_unit = TimeUnit::ms;
    RootWidth root_width = RootWidth::decay;
    std::array<bool, lane_count> visible = {true, false, true, true, false};

    bool operator==(const LaneView&) const = default;
    bool shows(Lane lane) const { return visible[static_cast<std::size_t>(lane)]; }
    void show(Lane lane, bool shown) { visible[static_cast<std::size_t>(lane)] = shown; }
};

// What one unit of the frequency axis is in Hz.
double hz_of(AxisUnit unit, double sample_rate_hz);
QString title_of(AxisUnit unit); // "Hz", "rad/s", "× sample rate"
QString title_of(Lane lane);     // "Magnitude"

// A vertical range in the lane's own unit: dB, log10 of the weight, degrees, ms,
// of roots see roots_lane.h. It changes only
// when the user asks.
struct LaneRange {
    double low = 0, high = 0;
    double step = 0; // between labelled lines; 0: what fits

    bool operator==(const LaneRange&) const = default;
};

// What is shown of the frequencies and of each lane.
struct LaneZoom {
    double low_hz = 20, high_hz = 20000; // on the axis: may be negative or above Nyquist
    std::array<LaneRange, lane_count> ranges = {LaneRange{-18, 18, 6}, LaneRange{-2, 2, 1},
                                                LaneRange{-180, 180, 90}, LaneRange{-5, 20, 5},
                                                LaneRange{-3.5, 3, 1}};

    bool operator==(const LaneZoom&) const = default;
    LaneRange& of(Lane lane) { return ranges[static_cast<std::size_t>(lane)]; }
    const LaneRange& of(Lane lane) const { return ranges[static_cast<std::size_t>(lane)]; }
};

// The next 1, 2 or 5 times a power of ten at or above a size.
double round_step(double at_least);

} // namespace syntonon
