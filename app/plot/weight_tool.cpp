// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/weight_tool.h"

#include "app/model/goal_commands.h"
#include "app/model/weight_commands.h"
#include "app/widgets/theme.h"

#include <algorithm>
#include <cmath>

namespace syntonon {

const Weights* WeightTool::weights() const {
    const Goal* goal = plot_.view().shows(Lane::weight) ? current_goal(session_) : nullptr;
    return goal != nullptr ? &goal->weights : nullptr;
}

QPointF WeightTool::point_at(int weight_point) const {
    const WeightPoint& point = weights()->points.at(static_cast<std::size_t>(weight_point));
    // Of the curve alone; ranges multiply what is drawn.
    return {plot_.x_of(point.frequency_hz), plot_.y_of(Lane::weight, std::log10(point.weight))};
}

std::vector<QPointF> WeightTool::handle_points() const {
    std::vector<QPointF> points;
    const Weights* all = weights();
    for (int i = 0; all != nullptr && i < static_cast<int>(all->points.size()); ++i) {
        points.push_back(point_at(i));
    }
    return points;
}

void WeightTool::paint(QPainter& painter) {
    const Weights* all = weights();
    if (all == nullptr) {
        return;
    }
    const Theme& t = theme();
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setBrush(t.raised);
    for (int i = 0; i < static_cast<int>(all->points.size()); ++i) {
        const QPointF at = point_at(i);
        if (plot_.rect_of(Lane::weight).contains(at.toPoint())) {
            painter.setPen(QPen(i == last_ ? t.copper : t.corridor_edge, 1.4));
            painter.drawEllipse(at, 4.5, 4.5);
        }
    }
    painter.setRenderHint(QPainter::Antialiasing, false);
}

int WeightTool::handle_at(const QPointF& point) const {
    const Weights* all = weights();
    for (int i = 0; all != nullptr && i < static_cast<int>(all->points.size()); ++i) {
        if (near(point, point_at(i))) {
            return i;
        }
    }
    return -1;
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
    const Weights* all = weights();
    if (all == nullptr || held_ < 0 || held_ >= static_cast<int>(all->points.size())) {
        return false;
    }
    const auto i = static_cast<std::size_t>(held_);
    constexpr double apart = 1.001;
    const double low = i > 0 ? all->points[i - 1].frequency_hz * apart : 0.1;
    const double high = i + 1 < all->points.size() ? all->points[i + 1].frequency_hz / apart : 1e7;
    const double weight = std::pow(10, plot_.value_at(Lane::weight, event.position().y()));
    edit_goal(
        session_, QObject::tr("Move a weight point"),
        [&](Goal& goal) {
            WeightPoint& point = goal.weights.points[i];
            point.frequency_hz =
                std::clamp(plot_.hz_at(event.position().x()), low, std::max(low, high));
            point.weight = std::clamp(weight, least_weight, greatest_weight);
        },
        gesture_);
    return true;
}

bool WeightTool::wants_key(const QKeyEvent& event) const {
    const Weights* all = weights();
    return event.key() == Qt::Key_Delete && all != nullptr && last_ >= 0
           && last_ < static_cast<int>(all->points.size());
}

bool WeightTool::key(const QKeyEvent& event) {
    if (event.key() == Qt::Key_Escape && held_ >= 0) {
        held_ = -1;
        session_.cancel_gesture(gesture_);
        return true;
    }
    if (!wants_key(event)) {
        return false;
    }
    const int index = last_;
    last_ = -1;
    edit_goal(session_, QObject::tr("Remove a weight point"), [index](Goal& goal) {
        goal.weights.points.erase(goal.weights.points.begin() + index);
    });
    return true;
}

bool WeightTool::double_click(const QPointF& at) {
    if (weights() == nullptr || !plot_.rect_of(Lane::weight).contains(at.toPoint())
        || handle_at(at) >= 0) {
        return false;
    }
    add_weight_point(session_, plot_.hz_at(at.x()),
                     std::pow(10, plot_.value_at(Lane::weight, at.y())));
    return true;
}

std::optional<QCursor> WeightTool::cursor_at(const QPointF& point) const {
    return handle_at(point) >= 0 ? std::optional(QCursor(Qt::SizeAllCursor)) : std::nullopt;
}

} // namespace syntonon
