// How much an error counts at each frequency.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/base/unknown_keys.h"

#include <vector>

namespace syntonon {

struct WeightRange {
    double from_hz = 100, to_hz = 10000;
    double weight = 1; // a ratio, positive
    UnknownKeys unknown = {};

    bool operator==(const WeightRange&) const = default;
};

struct WeightPoint {
    double frequency_hz = 1000;
    double weight = 1;
    UnknownKeys unknown = {};

    bool operator==(const WeightPoint&) const = default;
};

// A free curve through points (log weight straight over log frequency, level beyond the ends), and
// ranges; where several apply they multiply. Nothing given counts 1.
struct Weights {
    std::vector<WeightPoint> points; // by ascending frequency
    std::vector<WeightRange> ranges;
    UnknownKeys unknown = {};

    bool operator==(const Weights&) const = default;
    bool empty() const { return points.empty() && ranges.empty(); }
};

inline constexpr double least_weight = 1e-4, greatest_weight = 1e4;

double weight_at(const Weights& weights, double hz);

// The place is "points[1].weight" or "ranges[0].to_hz".
Expected<void> check(const Weights& weights);

} // namespace syntonon
