// How much an error counts, drawn by points over frequency.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/base/unknown_keys.h"

#include <span>
#include <vector>

namespace syntonon {

struct WeightPoint {
    double frequency_hz = 1000;
    double weight = 1; // a ratio, positive
    UnknownKeys unknown = {};

    bool operator==(const WeightPoint&) const = default;
};

// By ascending frequency: log weight straight over log frequency, level beyond the ends.
using WeightCurve = std::vector<WeightPoint>;

double weight_at(const WeightCurve& points, double hz); // 1 without points

struct WeightLimits {
    double least, greatest;
};
// The place is "[1].weight" or "[0].frequency_hz".
Expected<void> check(const WeightCurve& points, const WeightLimits& limits);
// The place is empty.
Expected<void> check_weight(double weight, const WeightLimits& limits);

} // namespace syntonon
