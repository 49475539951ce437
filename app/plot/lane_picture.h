// Lanes as pictures and numbers, for reports.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/plot/lane_view.h"
#include "core/base/problem.h"

#include <QImage>
#include <QString>
#include <optional>

namespace syntonon {

class LaneStack;

// One lane, or all that stand when none is given, drawn anew as they are shown: same units, zoom,
// curves and plumb line. Without a size, the size on the screen.
QImage lane_image(const LaneStack& lanes, std::optional<Lane> lane);
// Formats by the file's ending: png, svg or pdf, or csv for the numbers behind them. Refused for
// another ending and where the file cannot be written.
Expected<void> save_lanes(LaneStack& lanes, std::optional<Lane> lane, const QString& path);
void copy_lanes(const LaneStack& lanes, std::optional<Lane> lane);

} // namespace syntonon
