// How much an error counts at each frequency.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/base/unknown_keys.h"
#include "core/design/weight_curve.h"

#include <vector>

namespace syntonon {

struct WeightRange {
    double from_hz = 100, to_hz = 10000;
    double weight = 1; // a ratio, positive
    UnknownKeys unknown = {};

    bool operator==(const WeightRange&) const = default;
};

// A free curve and ranges; where several apply they multiply. Nothing given counts 1.
struct Weights {
    WeightCurve points;
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
