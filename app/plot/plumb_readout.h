// The plumb line and the box with every curve's value at its frequency.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/plumb_line.h"
#include "app/plot/lane_content.h"

#include <QPainter>
#include <QRectF>
#include <vector>

namespace syntonon {

// What a readout must keep clear of, on top of the curves in work.
struct ReadoutObstacles {
    std::vector<QRectF> grips;  // never
    std::vector<QRectF> labels; // if it can
};

class PlumbReadout {
public:
    // Beside the lanes instead of on them; the plot must leave room (see column_width).
    void set_column(bool column) { is_column_ = column; }
    bool is_column() const { return is_column_; }
    static constexpr int column_width = 184;

    void paint(QPainter& painter, const LanePlot& plot, const PlumbLine& plumb,
               const LaneContent& content, const ReadoutObstacles& obstacles);
    // Where the first line's box stood when it was last painted.
    const QRectF& box() const { return box_; }

private:
    bool is_column_ = false;
    QRectF box_;
};

} // namespace syntonon
