// The plumb line and the box with every curve's value at its frequency.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/plot/lane_plot.h"

#include <QPainter>
#include <QString>
#include <vector>

namespace syntonon {

struct ReadoutRow {
    QString name, value;
    QColor colour;
};

// What the box says: every curve at this frequency. Empty without a channel.
std::vector<ReadoutRow> readout_at(Session& session, double hz);

// What the second line adds: the first one's values minus its own, and the frequencies' ratio.
std::vector<ReadoutRow> differences_between(Session& session, double from_hz, double to_hz);

// The box stands at the top or the bottom of the magnitude lane, where it hides less of the curves.
void paint_plumb_line(QPainter& painter, const LanePlot& plot, Session& session);

} // namespace syntonon
