// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/weight_curve.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {

double weight_at(const WeightCurve& points, double hz) {
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

Expected<void> check_weight(double weight, const WeightLimits& limits) {
    if (!(weight >= limits.least && weight <= limits.greatest)) {
        return refuse("", fmt::format("{} is no weight", weight),
                      fmt::format("give {} to {}", limits.least, limits.greatest));
    }
    return {};
}

Expected<void> check(const WeightCurve& points, const WeightLimits& limits) {
    for (std::size_t i = 0; i < points.size(); ++i) {
        const double hz = points[i].frequency_hz;
        const double before = i > 0 ? points[i - 1].frequency_hz : 0;
        if (!(hz > before) || !std::isfinite(hz)) {
            return refuse(fmt::format("[{}].frequency_hz", i),
                          fmt::format("{} Hz does not follow {} Hz", hz, before),
                          "sort the points by frequency and give each once");
        }
        if (auto ok = check_weight(points[i].weight, limits); !ok) {
            return tl::unexpected(within(fmt::format("[{}].weight", i), ok.error()));
        }
    }
    return {};
}

} // namespace syntonon
