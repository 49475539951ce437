// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/window_side_lobes.h"

#include "core/math/window_facts.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace syntonon {
namespace {

// The parameters between which the side lobes fall all the way, the higher ones first. Beyond them
// the main lobe takes up the whole spectrum or nothing changes any more.
std::optional<std::pair<double, double>> ends_of(WindowShape shape) {
    switch (shape) {
    case WindowShape::kaiser:
        return std::pair(0.0, 30.0);
    case WindowShape::dolph_chebyshev:
        return std::pair(14.0, 200.0);
    case WindowShape::tukey:
        return std::pair(0.0, 1.0);
    case WindowShape::gaussian:
        return std::pair(2.0, 0.15);
    case WindowShape::cosine_power:
        return std::pair(0.0, 12.0);
    default:
        return std::nullopt;
    }
}

} // namespace

std::optional<double> parameter_by_side_lobe(WindowShape shape, double level_db,
                                             std::size_t length) {
    constexpr std::size_t long_enough = 257, least_length = 8;
    constexpr double no_lobes_db = -1000;
    const auto ends = ends_of(shape);
    if (!ends || length < least_length) {
        return std::nullopt;
    }
    if (shape == WindowShape::dolph_chebyshev) {
        return std::clamp(-level_db, ends->first, ends->second);
    }
    const auto level_of = [&](double parameter) {
        const auto values = window_values({shape, parameter, {}}, std::min(length, long_enough));
        const auto facts = window_facts(values);
        return facts ? facts->side_lobe_db : no_lobes_db;
    };
    auto [high, low] = *ends;
    constexpr int halvings = 40;
    constexpr double close = 0.005;
    for (int i = 0; i < halvings; ++i) {
        const double middle = (high + low) / 2;
        const double level = level_of(middle);
        if (std::abs(level - level_db) < close) {
            return middle;
        }
        (level > level_db ? high : low) = middle;
    }
    return (high + low) / 2;
}

} // namespace syntonon
