// Lines on lanes that are worked out point by point.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/plot/lane_plot.h"
#include "core/goal/target_curve.h"

#include <QVector>
#include <span>
#include <vector>

namespace syntonon {

struct LaneLine {
    std::vector<double> hz;
    QVector<double> values;

    void add(double at_hz, double value) {
        hz.push_back(at_hz);
        values.append(value);
    }
    void gap();
};

// Levels that a pixel coordinate can hold; a zero on the circle is -infinity.
double drawable(const LanePlot& plot, double db);
QVector<double> drawable(const LanePlot& plot, std::span<const double> db);

// Frequencies for a formula within a part of the shown range, its corners among them.
std::vector<double> frequencies_across(const LanePlot& plot, double from_hz, double to_hz,
                                       std::vector<double> corners = {});

// The target with gaps where it has none and breaks where it jumps.
LaneLine line_of(const LanePlot& plot, const TargetCurve& target);

} // namespace syntonon
