// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/lane_labels.h"

#include "app/widgets/line_text.h"
#include "app/widgets/theme.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double label_height = 13, inset = 6, leads_from = 9;

bool is_free(const QRectF& box, const std::vector<QRectF>& taken) {
    return std::ranges::none_of(taken, [&](const QRectF& other) { return other.intersects(box); });
}

// The free height nearest to the wished one, within the lane.
std::optional<QRectF> nearest_free(QRectF box, const QRect& lane,
                                   const std::vector<QRectF>& taken) {
    const double top = lane.top() + 2, bottom = lane.bottom() - label_height - 1;
    const double wish = std::clamp(box.top(), top, bottom);
    for (double away = 0; away < lane.height(); away += 2) {
        for (const double y : {wish + away, wish - away}) {
            box.moveTop(y);
            if (y >= top && y <= bottom && is_free(box, taken)) {
                return box;
            }
        }
    }
    return std::nullopt;
}

} // namespace

double label_width(const QString& text) {
    return line_width(text_font(11), text);
}

std::vector<PlacedLabel> place_labels(const std::vector<CurveLabel>& labels, const LanePlot& plot,
                                      std::vector<QRectF> taken) {
    std::vector<PlacedLabel> placed;
    const QRect lane = plot.rect_of(Lane::magnitude);
    if (lane.isEmpty()) {
        return placed;
    }
    for (const bool at_end : {true, false}) {
        for (const CurveLabel& label : labels) {
            if (label.at_end != at_end) {
                continue;
            }
            const double width = label_width(label.text) + 2;
            const QPointF curve(plot.x_of(label.hz), plot.y_of(Lane::magnitude, label.level_db));
            const double x =
                std::clamp(curve.x() - width - inset, lane.left() + inset,
                           std::max(lane.left() + inset, lane.right() - width - inset));
            const double wish = label.above ? curve.y() - 18 : curve.y() + 4;
            const auto box = nearest_free({x, wish, width, label_height}, lane, taken);
            const bool too_far =
                box && !at_end && std::abs(box->top() - wish) > lane.height() / 3.0;
            if (!box || too_far) {
                continue;
            }
            taken.push_back(*box);
            const bool lead = at_end
                              && std::abs(box->center().y() - curve.y()) > leads_from + label_height
                              && lane.contains(curve.toPoint());
            placed.push_back({label, *box, lead ? std::optional(curve) : std::nullopt});
        }
    }
    return placed;
}

QColor shining_through() {
    QColor ground = theme().panel;
    ground.setAlphaF(0.87F);
    return ground;
}

void paint_labels(QPainter& painter, const std::vector<PlacedLabel>& labels) {
    painter.setFont(text_font(11));
    for (const PlacedLabel& placed : labels) {
        painter.fillRect(placed.box, shining_through());
        painter.setPen(placed.label.colour);
        draw_line(painter, placed.box.adjusted(0, -1, 2, 1), Qt::AlignLeft | Qt::AlignVCenter,
                  placed.label.text);
        if (placed.curve_end) {
            const QPointF from(placed.box.right() + 1, placed.box.center().y());
            painter.drawLine(from, {placed.curve_end->x() - 1, placed.curve_end->y()});
        }
    }
}

} // namespace syntonon
