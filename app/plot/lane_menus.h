// What one can choose about a lane: units, scales, ranges, which curves.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/plot/lane_view.h"

class QMenu;

namespace syntonon {

class LaneStack;

// The menu of the frequency axis and of a lane's values. They are filled anew each time they open.
void fill_frequency_menu(QMenu& menu, LaneStack& lanes);
void fill_lane_menu(QMenu& menu, LaneStack& lanes, Lane lane);
// Which lanes stand, and which curves are drawn on them.
void fill_lanes_menu(QMenu& menu, LaneStack& lanes);
void fill_curves_menu(QMenu& menu, LaneStack& lanes);

} // namespace syntonon
