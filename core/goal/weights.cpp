// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/weights.h"

#include <cmath>
#include <fmt/format.h>

namespace syntonon {

double weight_at(const Weights& weights, double hz) {
    double weight = weight_at(weights.points, hz);
    for (const WeightRange& range : weights.ranges) {
        if (hz >= range.from_hz && hz <= range.to_hz) {
            weight *= range.weight;
        }
    }
    return weight;
}

Expected<void> check(const Weights& weights) {
    constexpr WeightLimits limits{least_weight, greatest_weight};
    if (auto ok = check(weights.points, limits); !ok) {
        return tl::unexpected(within("points", ok.error()));
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
        if (auto ok = check_weight(range.weight, limits); !ok) {
            return tl::unexpected(within(place + ".weight", ok.error()));
        }
    }
    return {};
}

} // namespace syntonon
