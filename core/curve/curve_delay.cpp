// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/curve_delay.h"

#include <algorithm>

namespace syntonon {
namespace {

struct Point {
    double x, y;
};

// At `x`, of the parabola through three points.
double slope_at(double x, const Point& a, const Point& b, const Point& c) {
    const double first = (b.y - a.y) / (b.x - a.x);
    const double second = ((c.y - b.y) / (c.x - b.x) - first) / (c.x - a.x);
    return first + second * (2 * x - a.x - b.x);
}

} // namespace

std::vector<double> group_delay_s(const Curve& curve) {
    const std::size_t count = curve.frequency_hz.size();
    if (!curve.has_phase() || count < 2) {
        return {};
    }
    const CurveReader reader(curve);
    const auto turns = [&](std::size_t i) {
        const double hz = curve.frequency_hz[i];
        return Point{hz, -reader.phase_deg_at(hz) / 360};
    };
    std::vector<double> delay(count);
    if (count == 2) {
        const Point a = turns(0), b = turns(1);
        delay[0] = delay[1] = (b.y - a.y) / (b.x - a.x);
        return delay;
    }
    for (std::size_t i = 0; i < count; ++i) {
        const std::size_t middle = std::clamp<std::size_t>(i, 1, count - 2);
        delay[i] =
            slope_at(curve.frequency_hz[i], turns(middle - 1), turns(middle), turns(middle + 1));
    }
    return delay;
}

} // namespace syntonon
