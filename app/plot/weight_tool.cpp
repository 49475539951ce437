// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/weight_tool.h"

#include "app/model/weight_commands.h"
#include "app/widgets/theme.h"
#include "core/base/number_text.h"

#include <algorithm>
#include <cmath>

namespace syntonon {

DrawnWeights WeightTool::drawn() const {
    return plot_.view().shows(Lane::weight) ? drawn_weights(session_) : DrawnWeights();
}
WeightCurve WeightTool::points() const {
    return drawn().weights.points;
}

QPointF WeightTool::point_at(int weight_point) const {
    return point_at(points().at(static_cast<std::size_t>(weight_point)));
}

QPointF WeightTool::point_at(const WeightPoint& point) const {
    // Of the curve alone; ranges multiply what is drawn.
    return {plot_.x_of(point.frequency_hz), plot_.y_of(Lane::weight, std::log10(point.weight))};
}

std::vector<QPointF> WeightTool::handle_points() const {
    std::vector<QPointF> handles;
    for (const WeightPoint& point : points()) {
        handles.push_back(point_at(point));
    }
    return handles;
}

void WeightTool::paint(QPainter& painter) {
    const DrawnWeights all = drawn();
    const Theme& t = theme();
    const QColor own = all.of == DrawnWeights::Of::fir ? t.copper : t.corridor_edge;
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setBrush(t.raised);
    int i = 0;
    for (const WeightPoint& point : all.weights.points) {
        const QPointF at = point_at(point);
        const bool is_last = i++ == last_;
        if (plot_.rect_of(Lane::weight).contains(at.toPoint())) {
            painter.setPen(QPen(is_last ? t.copper : own, is_last ? 2.2 : 1.4));
            painter.drawEllipse(at, 4.5, 4.5);
        }
    }
    painter.setRenderHint(QPainter::Antialiasing, false);
}

int WeightTool::handle_at(const QPointF& point) const {
    const auto handles = handle_points();
    const auto found =
        std::ranges::find_if(handles, [&](const QPointF& handle) { return near(point, handle); });
    return found != handles.end() ? static_cast<int>(found - handles.begin()) : -1;
}

bool WeightTool::press(const QMouseEvent& event) {
    if (event.button() != Qt::LeftButton) {
        return false;
    }
    held_ = last_ = handle_at(event.position());
    gesture_ = session_.new_gesture();
    return held_ >= 0;
}

bool WeightTool::move(const QMouseEvent& event) {
    const DrawnWeights all = drawn();
    const WeightCurve& points = all.weights.points;
    if (held_ < 0 || held_ >= static_cast<int>(points.size())) {
        return false;
    }
    const auto i = static_cast<std::size_t>(held_);
    constexpr double apart = 1.001;
    const double low = i > 0 ? points[i - 1].frequency_hz * apart : 0.1;
    const double high = i + 1 < points.size() ? points[i + 1].frequency_hz / apart : 1e7;
    const double weight = std::pow(10, plot_.value_at(Lane::weight, event.position().y()));
    edit_drawn_weights(
        session_, QObject::tr("Move a weight point"),
        [&](WeightCurve& curve) {
            curve[i].frequency_hz =
                std::clamp(plot_.hz_at(event.position().x()), low, std::max(low, high));
            curve[i].weight = std::clamp(weight, all.limits.least, all.limits.greatest);
        },
        gesture_);
    return true;
}

bool WeightTool::wants_key(const QKeyEvent& event) const {
    return event.key() == Qt::Key_Delete && last_ >= 0 && last_ < static_cast<int>(points().size());
}

bool WeightTool::key(const QKeyEvent& event) {
    if (is_holding() && escapes(event, session_, gesture_)) {
        return true;
    }
    if (!wants_key(event)) {
        return false;
    }
    const int index = last_;
    last_ = -1;
    edit_drawn_weights(session_, QObject::tr("Remove a weight point"),
                       [index](WeightCurve& curve) { curve.erase(curve.begin() + index); });
    return true;
}

bool WeightTool::double_click(const QPointF& at) {
    const DrawnWeights all = drawn();
    if (all.of == DrawnWeights::Of::nobody || !plot_.rect_of(Lane::weight).contains(at.toPoint())
        || handle_at(at) >= 0) {
        return false;
    }
    const double hz = plot_.hz_at(at.x());
    const double weight = std::clamp(std::pow(10, plot_.value_at(Lane::weight, at.y())),
                                     all.limits.least, all.limits.greatest);
    edit_drawn_weights(
        session_,
        QObject::tr("Add a weight point at %1").arg(QString::fromStdString(frequency_text(hz))),
        [&](WeightCurve& curve) { add_point(curve, hz, weight); });
    return true;
}

std::optional<QCursor> WeightTool::cursor_at(const QPointF& point) const {
    return handle_at(point) >= 0 ? std::optional(QCursor(Qt::SizeAllCursor)) : std::nullopt;
}

} // namespace syntonon
