// The curve that a channel aims for.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/base/unknown_keys.h"

#include <vector>

namespace syntonon {

struct TargetPoint {
    double frequency_hz = 1000;
    double magnitude_db = 0;
    UnknownKeys unknown;

    bool operator==(const TargetPoint&) const = default;
};

// Which axis the lines between points are straight on, against dB.
enum class Between { log_frequency, linear_frequency };

// Points by ascending frequency; level before the first and after the last. Without points: 0 dB.
struct Target {
    std::vector<TargetPoint> points;
    Between between = Between::log_frequency;
    UnknownKeys unknown;

    bool operator==(const Target&) const = default;
};

double level_db_at(const Target& target, double hz);

// Refuses frequencies that are not positive or do not ascend, and levels that are not finite; the
// place is "points[2].frequency_hz".
Expected<void> check(const Target& target);

} // namespace syntonon
