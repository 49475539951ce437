// Names of curves on the magnitude lane, none on top of another.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/plot/lane_content.h"

#include <QPainter>
#include <QRectF>
#include <optional>
#include <vector>

namespace syntonon {

struct PlacedLabel {
    CurveLabel label;
    QRectF box;
    std::optional<QPointF> curve_end; // where a line leads when the name had to move away from it
};

// Names at the right side are stacked at the heights of their curves, many that end close together
// below them; what does not fit is left
// out, the later ones first. The others stay clear of them and of `taken`.
std::vector<PlacedLabel> place_labels(const std::vector<CurveLabel>& labels, const LanePlot& plot,
                                      std::vector<QRectF> taken);

// In pixels at the lanes' type size.
double label_width(const QString& text);

// A ground for words before curves: the curves shine through.
QColor shining_through();

void paint_labels(QPainter& painter, const std::vector<PlacedLabel>& labels);

} // namespace syntonon
