// Where the lanes' axes have lines, and what stands beside them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/plot/lane_view.h"

#include <QString>
#include <vector>

namespace syntonon {

struct AxisTick {
    double place; // in the axis' own unit
    QString text;
};

std::vector<AxisTick> frequency_ticks(const LaneView& view, double sample_rate_hz, double low_hz,
                                      double high_hz);
// Between two values of the axis, which shows `range`. `pixels` is the axis' length: as many lines
// as can be labelled.
std::vector<AxisTick> value_ticks(Lane lane, const LaneView& view, const LaneRange& range,
                                  double sample_rate_hz, double pixels, double axis_low,
                                  double axis_high);

} // namespace syntonon
