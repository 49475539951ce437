// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/target.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {

double level_db_at(const Target& target, double hz) {
    const auto& points = target.points;
    if (points.empty()) {
        return 0;
    }
    const auto above = std::ranges::upper_bound(points, hz, {}, &TargetPoint::frequency_hz);
    if (above == points.begin()) {
        return points.front().magnitude_db;
    }
    if (above == points.end()) {
        return points.back().magnitude_db;
    }
    const TargetPoint& a = *(above - 1);
    const TargetPoint& b = *above;
    const double part =
        target.between == Between::log_frequency
            ? std::log(hz / a.frequency_hz) / std::log(b.frequency_hz / a.frequency_hz)
            : (hz - a.frequency_hz) / (b.frequency_hz - a.frequency_hz);
    return a.magnitude_db + part * (b.magnitude_db - a.magnitude_db);
}

Expected<void> check(const Target& target) {
    for (std::size_t i = 0; i < target.points.size(); ++i) {
        const TargetPoint& point = target.points[i];
        if (!(point.frequency_hz > 0) || !std::isfinite(point.frequency_hz)) {
            return refuse(fmt::format("points[{}].frequency_hz", i),
                          fmt::format("{} Hz is not positive", point.frequency_hz),
                          "give a frequency above 0");
        }
        if (i > 0 && !(point.frequency_hz > target.points[i - 1].frequency_hz)) {
            return refuse(fmt::format("points[{}].frequency_hz", i),
                          fmt::format("{} Hz does not follow {} Hz", point.frequency_hz,
                                      target.points[i - 1].frequency_hz),
                          "sort the points by frequency and give each once");
        }
        if (!std::isfinite(point.magnitude_db)) {
            return refuse(fmt::format("points[{}].magnitude_db", i), "is not a finite number",
                          "give a level in dB");
        }
    }
    return {};
}

} // namespace syntonon
