// A target worked out: ready to be drawn, judged against and read at any frequency.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/curve.h"
#include "core/goal/target_line.h"

#include <cstddef>
#include <optional>
#include <vector>

namespace syntonon {

class TargetCurve {
public:
    // 0 at all frequencies.
    TargetCurve();
    // The line (which must have passed check), raised by `offset`. Without points: `offset`
    // everywhere.
    explicit TargetCurve(const TargetLine& line, double offset = 0);
    // The curve's magnitude, raised by `offset`; not given beyond the curve's ends.
    explicit TargetCurve(const Curve& curve, double offset = 0);

    // Nothing in a gap. At a jump the value after it.
    std::optional<double> value_at(double hz) const;

    // A stretch without gaps and jumps, with the corners between its ends.
    struct Part {
        double from_hz = 0, to_hz = 0;
        std::vector<double> corners_hz;
        std::size_t first = 0, last = 0; // its segments
    };
    // Where it is given within [from_hz, to_hz], in order.
    std::vector<Part> parts(double from_hz, double to_hz) const;
    // Within the part, its ends included, where a jump may stand.
    double value_in(const Part& part, double hz) const;

private:
    struct Segment {
        double from_hz, to_hz, from, to;
        bool linear;
        double value_at(double hz) const;
    };
    void add(double from_hz, double to_hz, double from, double to, Between between);

    std::vector<Segment> segments_; // ascending, not overlapping
};

} // namespace syntonon
