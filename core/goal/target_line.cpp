// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/target_line.h"

#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

Expected<void> check_frequency(const TargetLine& line, std::size_t i) {
    const double hz = line.points[i].frequency_hz;
    const std::string place = fmt::format("points[{}].frequency_hz", i);
    if (!(hz > 0) || !std::isfinite(hz)) {
        return refuse(place, fmt::format("{} Hz is not positive", hz), "give a frequency above 0");
    }
    if (i > 0 && hz < line.points[i - 1].frequency_hz) {
        return refuse(
            place, fmt::format("{} Hz does not follow {} Hz", hz, line.points[i - 1].frequency_hz),
            "sort the points by frequency");
    }
    if (i > 1 && hz == line.points[i - 2].frequency_hz) {
        return refuse(place, fmt::format("is the third point at {} Hz", hz),
                      "a jump has two points, before and after it: remove one");
    }
    return {};
}

} // namespace

Expected<void> check(const TargetLine& line, const char* value_key) {
    for (std::size_t i = 0; i < line.points.size(); ++i) {
        if (auto ok = check_frequency(line, i); !ok) {
            return ok;
        }
        if (!std::isfinite(line.points[i].value)) {
            return refuse(fmt::format("points[{}].{}", i, value_key), "is not a finite number",
                          "give a number");
        }
    }
    return {};
}

} // namespace syntonon
