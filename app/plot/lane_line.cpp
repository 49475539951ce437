// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/lane_line.h"

#include <algorithm>
#include <cmath>

namespace syntonon {

void LaneLine::gap() {
    if (!hz.empty()) {
        hz.push_back(hz.back());
        values.append(qQNaN());
    }
}

double drawable(const LanePlot& plot, double db) {
    const LaneRange& shown = plot.range(Lane::magnitude);
    const double span = shown.high - shown.low;
    const bool linear = plot.view().level == LevelScale::linear_ratio;
    return std::clamp(db, linear ? -1000.0 : shown.low - 20 * span,
                      linear ? shown.high + 12 : shown.high + 20 * span);
}

QVector<double> drawable(const LanePlot& plot, std::span<const double> db) {
    QVector<double> out(db.begin(), db.end());
    std::ranges::transform(out, out.begin(), [&](double v) { return drawable(plot, v); });
    return out;
}

std::vector<double> frequencies_across(const LanePlot& plot, double from_hz, double to_hz,
                                       std::vector<double> corners) {
    constexpr int points_across = 200;
    const double low = std::max({from_hz, plot.low_hz(), 1e-3});
    const double high = std::min(to_hz, plot.high_hz());
    if (!(low < high)) {
        return {};
    }
    std::erase_if(corners, [&](double hz) { return hz <= low || hz >= high; });
    corners.push_back(low);
    corners.push_back(high);
    for (int i = 1; i < points_across; ++i) {
        corners.push_back(plot.view().linear_frequency
                              ? low + (high - low) * i / points_across
                              : low * std::pow(high / low, i / double(points_across)));
    }
    std::ranges::sort(corners);
    corners.erase(std::unique(corners.begin(), corners.end()), corners.end());
    return corners;
}

LaneLine line_of(const LanePlot& plot, const TargetCurve& target) {
    LaneLine line;
    for (const TargetCurve::Part& part : target.parts(plot.low_hz(), plot.high_hz())) {
        line.gap();
        for (const double f : frequencies_across(plot, part.from_hz, part.to_hz, part.corners_hz)) {
            line.add(f, target.value_in(part, f));
        }
    }
    return line;
}

} // namespace syntonon
