// A line through points, which may jump and have gaps: a target for level, phase or delay.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/base/unknown_keys.h"

#include <optional>
#include <vector>

namespace syntonon {

// What stands between a point and the next one: a line that is straight over log or over linear
// frequency, or nothing ("don't care").
enum class Between { log_frequency, linear_frequency, gap };

struct TargetPoint {
    double frequency_hz = 1000;
    double value = 0;             // dB, degrees or ms: the owner knows
    std::optional<Between> after; // to the next point; else as the whole line
    UnknownKeys unknown = {};

    bool operator==(const TargetPoint&) const = default;
};

// Points by ascending frequency; two at the same frequency make a jump. Before the first and after
// the last the line stays level, or is not given at all when the ends are open.
struct TargetLine {
    std::vector<TargetPoint> points;
    Between between = Between::log_frequency; // of points that say nothing else; never a gap
    bool open_ends = false;
    UnknownKeys unknown = {};

    bool operator==(const TargetLine&) const = default;
};

// Refuses frequencies that are not positive or descend, more than two points at one frequency, and
// values that are not finite. The place is "points[2].frequency_hz" or "points[2].<value_key>".
Expected<void> check(const TargetLine& line, const char* value_key);

} // namespace syntonon
