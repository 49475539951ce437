// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/weights.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

Expected<void> check_weight(const std::string& place, double weight) {
    if (!(weight >= least_weight && weight <= greatest_weight)) {
        return refuse(place + ".weight", fmt::format("{} is no weight", weight),
                      fmt::format("give {} to {}", least_weight, greatest_weight));
    }
    return {};
}

double weight_of_curve(const std::vector<WeightPoint>& points, double hz) {
    if (points.empty()) {
        return 1;
    }
    const auto above = std::ranges::upper_bound(points, hz, {}, &WeightPoint::frequency_hz);
    if (above == points.begin()) {
        return points.front().weight;
    }
    if (above == points.end()) {
        return points.back().weight;
    }
    const WeightPoint &a = *(above - 1), &b = *above;
    const double part = std::log(hz / a.frequency_hz) / std::log(b.frequency_hz / a.frequency_hz);
    return a.weight * std::pow(b.weight / a.weight, part);
}

} // namespace

double weight_at(const Weights& weights, double hz) {
    double weight = weight_of_curve(weights.points, hz);
    for (const WeightRange& range : weights.ranges) {
        if (hz >= range.from_hz && hz <= range.to_hz) {
            weight *= range.weight;
        }
    }
    return weight;
}

Expected<void> check(const Weights& weights) {
    for (std::size_t i = 0; i < weights.points.size(); ++i) {
        const std::string place = fmt::format("points[{}]", i);
        const double hz = weights.points[i].frequency_hz;
        const double before = i > 0 ? weights.points[i - 1].frequency_hz : 0;
        if (!(hz > before) || !std::isfinite(hz)) {
            return refuse(place + ".frequency_hz",
                          fmt::format("{} Hz does not follow {} Hz", hz, before),
                          "sort the points by frequency and give each once");
        }
        if (auto ok = check_weight(place, weights.points[i].weight); !ok) {
            return ok;
        }
    }
    for (std::size_t i = 0; i < weights.ranges.size(); ++i) {
        const WeightRange& range = weights.ranges[i];
        const std::string place = fmt::format("ranges[{}]", i);
        if (!(range.from_hz >= 0) || !(range.to_hz > range.from_hz)
            || !std::isfinite(range.to_hz)) {
            return refuse(place + ".to_hz",
                          fmt::format("{} Hz is not above {} Hz, so the range is empty",
                                      range.to_hz, range.from_hz),
                          "give a higher frequency");
        }
        if (auto ok = check_weight(place, range.weight); !ok) {
            return ok;
        }
    }
    return {};
}

} // namespace syntonon
