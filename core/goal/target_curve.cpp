// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/target_curve.h"

#include "core/base/units.h"
#include <algorithm>
#include <cmath>
#include <limits>

namespace syntonon {
namespace {} // namespace

double TargetCurve::Segment::value_at(double hz) const {
    if (from == to || hz <= from_hz) {
        return from;
    }
    if (hz >= to_hz) {
        return to;
    }
    const double part = linear ? (hz - from_hz) / (to_hz - from_hz)
                               : std::log(hz / from_hz) / std::log(to_hz / from_hz);
    return from + part * (to - from);
}

void TargetCurve::add(double from_hz, double to_hz, double from, double to, Between between) {
    if (between != Between::gap && from_hz < to_hz) {
        segments_.push_back({from_hz, to_hz, from, to, between == Between::linear_frequency});
    }
}

TargetCurve::TargetCurve() : segments_{{0, infinity, 0, 0, false}} {}

TargetCurve::TargetCurve(const TargetLine& line, double offset) {
    if (line.points.empty()) {
        segments_ = {{0, infinity, offset, offset, false}};
        return;
    }
    const auto hold = line.open_ends ? Between::gap : line.between;
    const TargetPoint &first = line.points.front(), &last = line.points.back();
    add(0, first.frequency_hz, first.value + offset, first.value + offset, hold);
    for (std::size_t i = 1; i < line.points.size(); ++i) {
        const TargetPoint &a = line.points[i - 1], &b = line.points[i];
        add(a.frequency_hz, b.frequency_hz, a.value + offset, b.value + offset,
            a.after.value_or(line.between));
    }
    add(last.frequency_hz, infinity, last.value + offset, last.value + offset, hold);
}

TargetCurve::TargetCurve(const Curve& curve, double offset) {
    for (std::size_t i = 1; i < curve.frequency_hz.size(); ++i) {
        add(curve.frequency_hz[i - 1], curve.frequency_hz[i], curve.magnitude_db[i - 1] + offset,
            curve.magnitude_db[i] + offset, Between::log_frequency);
    }
}

std::optional<double> TargetCurve::value_at(double hz) const {
    const auto after = std::ranges::upper_bound(segments_, hz, {}, &Segment::from_hz);
    if (after == segments_.begin()) {
        return std::nullopt;
    }
    const Segment& segment = *(after - 1);
    return hz <= segment.to_hz ? std::optional(segment.value_at(hz)) : std::nullopt;
}

std::vector<TargetCurve::Part> TargetCurve::parts(double from_hz, double to_hz) const {
    std::vector<Part> parts;
    const Segment* last = nullptr;
    for (std::size_t i = 0; i < segments_.size(); ++i) {
        const Segment& s = segments_[i];
        const double low = std::max(s.from_hz, from_hz), high = std::min(s.to_hz, to_hz);
        if (!(low < high)) {
            continue;
        }
        const bool goes_on = last != nullptr && last->to_hz == s.from_hz && last->to == s.from;
        if (goes_on) {
            parts.back().corners_hz.push_back(low);
            parts.back().to_hz = high;
            parts.back().last = i;
        } else {
            parts.push_back({low, high, {}, i, i});
        }
        last = &s;
    }
    return parts;
}

double TargetCurve::value_in(const Part& part, double hz) const {
    const auto begin = segments_.begin() + static_cast<std::ptrdiff_t>(part.first);
    const auto end = segments_.begin() + static_cast<std::ptrdiff_t>(part.last);
    return std::lower_bound(begin, end, hz,
                            [](const Segment& s, double at) { return s.to_hz < at; })
        ->value_at(hz);
}

} // namespace syntonon
