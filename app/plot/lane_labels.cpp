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

// Many curves that end close together: their names stand below all of them, where there is room,
// since on top of them they would hide what they name. Nothing where they are few or far apart.
std::optional<QRectF> crowd_of(const std::vector<CurveLabel>& labels, const LanePlot& plot,
                               const QRect& lane) {
    constexpr int many = 4;
    double top = lane.bottom(), bottom = lane.top();
    int count = 0;
    for (const CurveLabel& label : labels) {
        if (label.at_end) {
            const double y = plot.y_of(Lane::magnitude, label.level_db);
            top = std::min(top, y);
            bottom = std::max(bottom, y);
            ++count;
        }
    }
    const double stacked = count * (label_height + 1);
    constexpr double apart = 4;
    const bool is_crowd = count >= many && bottom - top < stacked;
    return is_crowd && bottom + apart + stacked < lane.bottom() ? std::optional(
               QRectF(lane.left(), lane.top(), lane.width(), bottom + apart - lane.top()))
                                                                : std::nullopt;
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
    const auto crowd = crowd_of(labels, plot, lane);
    for (const bool at_end : {true, false}) {
        // Of the crowd alone: other names stand where they are wanted.
        auto kept_free = taken;
        if (at_end && crowd) {
            kept_free.push_back(*crowd);
        }
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
            const auto box = nearest_free({x, wish, width, label_height}, lane, kept_free);
            const bool too_far =
                box && !at_end && std::abs(box->top() - wish) > lane.height() / 3.0;
            if (!box || too_far) {
                continue;
            }
            taken.push_back(*box);
            kept_free.push_back(*box);
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
