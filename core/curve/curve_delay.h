// The group delay of a measured curve.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/curve.h"

#include <vector>

namespace syntonon {

// -dphase/domega in seconds at each of the curve's points, whose phase is unwrapped as by
// CurveReader: the slope of the parabola through a point and its two neighbours, at the ends that
// of the parabola through the last three (Abramowitz and Stegun, Handbook of Mathematical
// Functions, 25.3.4, for unequal steps). Empty without phase or with fewer than two points.
std::vector<double> group_delay_s(const Curve& curve);

} // namespace syntonon
