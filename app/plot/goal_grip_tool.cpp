// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/goal_grip_tool.h"

#include "app/model/goal_commands.h"
#include "app/widgets/theme.h"

#include <algorithm>
#include <cmath>

namespace syntonon {

QPointF GoalGripTool::point_at(int target_point) const {
    const Goal* goal = current_goal(session_);
    const TargetPoint& p = goal->target.points.at(static_cast<std::size_t>(target_point));
    // Points beyond the shown frequencies keep a handle at the lane's edge.
    const QRect r = plot_.rect_of(Lane::magnitude);
    return {std::clamp<double>(plot_.x_of(p.frequency_hz), r.left(), r.right()),
            plot_.y_of(Lane::magnitude, p.magnitude_db)};
}

std::vector<GoalGripTool::Handle> GoalGripTool::handles() const {
    std::vector<Handle> all;
    const Goal* goal = current_goal(session_);
    if (!active_ || goal == nullptr) {
        return all;
    }
    const QRect lane = plot_.rect_of(Lane::magnitude);
    for (int i = 0; i < static_cast<int>(goal->target.points.size()); ++i) {
        all.push_back({Part::point, i, point_at(i)});
    }
    for (int i = 0; i < static_cast<int>(goal->corridor.size()); ++i) {
        const CorridorRange& range = goal->corridor[static_cast<std::size_t>(i)];
        const double from =
            std::clamp<double>(plot_.x_of(std::max(range.from_hz, 0.1)), lane.left(), lane.right());
        const double to = std::clamp<double>(plot_.x_of(range.to_hz), lane.left(), lane.right());
        const double middle_hz = plot_.hz_at((from + to) / 2);
        const double target = level_db_at(goal->target, middle_hz);
        const auto y = [&](double db) { return plot_.y_of(Lane::magnitude, db); };
        if (range.above_db) {
            all.push_back({Part::above, i, {(from + to) / 2, y(target + *range.above_db)}});
        }
        if (range.below_db) {
            all.push_back({Part::below, i, {(from + to) / 2, y(target - *range.below_db)}});
        }
        // Inside the ends, so that the end of one range and the start of the next stay apart.
        all.push_back({Part::from, i, {from + 5, y(level_db_at(goal->target, range.from_hz))}});
        all.push_back({Part::to, i, {to - 5, y(level_db_at(goal->target, range.to_hz))}});
    }
    return all;
}

void GoalGripTool::paint(QPainter& painter) {
    const Theme& t = theme();
    painter.setRenderHint(QPainter::Antialiasing, true);
    for (const Handle& handle : handles()) {
        const bool lies = handle.part == Part::above || handle.part == Part::below;
        painter.setPen(QPen(
            handle.part == Part::point && handle.index == last_point_ ? t.copper : t.corridor_edge,
            1.4));
        painter.setBrush(t.raised);
        if (handle.part == Part::point) {
            painter.drawEllipse(handle.at, 4.5, 4.5);
        } else {
            painter.drawRect(QRectF(handle.at.x() - (lies ? 7 : 2), handle.at.y() - (lies ? 2 : 7),
                                    lies ? 14 : 4, lies ? 4 : 14));
        }
    }
    painter.setRenderHint(QPainter::Antialiasing, false);
}

GoalGripTool::Handle GoalGripTool::handle_at(const QPointF& point) const {
    for (const Handle& handle : handles()) {
        if (near(point, handle.at)) {
            return handle;
        }
    }
    return {};
}

bool GoalGripTool::press(const QMouseEvent& event) {
    if (event.button() != Qt::LeftButton) {
        return false;
    }
    held_ = handle_at(event.position());
    last_point_ = held_.part == Part::point ? held_.index : -1;
    gesture_ = session_.new_gesture();
    return held_.part != Part::none;
}

void GoalGripTool::drag_range(Goal& goal, const QPointF& at) const {
    constexpr double least_ratio = 1.02, least_db = 0.05;
    CorridorRange& range = goal.corridor[static_cast<std::size_t>(held_.index)];
    const double hz = std::clamp(plot_.hz_at(at.x()), plot_.low_hz(), plot_.high_hz());
    const double deviation = plot_.value_at(Lane::magnitude, at.y()) - level_db_at(goal.target, hz);
    switch (held_.part) {
    case Part::from:
        range.from_hz = std::min(hz, range.to_hz / least_ratio);
        break;
    case Part::to:
        range.to_hz = std::max(hz, range.from_hz * least_ratio);
        break;
    case Part::above:
        range.above_db = std::max(std::round(deviation * 20) / 20,
                                  least_db - range.below_db.value_or(-least_db));
        break;
    case Part::below:
        range.below_db = std::max(std::round(-deviation * 20) / 20,
                                  least_db - range.above_db.value_or(-least_db));
        break;
    default:
        break;
    }
}

bool GoalGripTool::move(const QMouseEvent& event) {
    if (held_.part == Part::none || current_goal(session_) == nullptr) {
        return false;
    }
    const QPointF at = event.position();
    if (held_.part == Part::point) {
        const double level = std::round(plot_.value_at(Lane::magnitude, at.y()) * 20) / 20;
        edit_goal(
            session_, QObject::tr("Move a target point"),
            [&](Goal& goal) {
                goal.target.points[static_cast<std::size_t>(held_.index)] =
                    held_between_neighbours(goal.target, held_.index, plot_.hz_at(at.x()), level);
            },
            gesture_);
    } else {
        edit_goal(
            session_, QObject::tr("Move a corridor edge"),
            [&](Goal& goal) { drag_range(goal, at); }, gesture_);
    }
    return true;
}

bool GoalGripTool::key(const QKeyEvent& event) {
    if (event.key() == Qt::Key_Escape && held_.part != Part::none) {
        held_.part = Part::none;
        session_.cancel_gesture(gesture_);
        return true;
    }
    if (wants_key(event)) {
        remove_target_point(session_, last_point_);
        last_point_ = -1;
        return true;
    }
    return false;
}

bool GoalGripTool::double_click(const QPointF& at) {
    const Goal* goal = current_goal(session_);
    if (!active_ || goal == nullptr || handle_at(at).part != Part::none) {
        return false;
    }
    const double hz = plot_.hz_at(at.x());
    const double line = plot_.y_of(Lane::magnitude, level_db_at(goal->target, hz));
    if (std::abs(line - at.y()) > handle_reach) {
        return false;
    }
    add_target_point(session_, hz, level_db_at(goal->target, hz));
    return true;
}

std::optional<QCursor> GoalGripTool::cursor_at(const QPointF& point) const {
    switch (handle_at(point).part) {
    case Part::none:
        return std::nullopt;
    case Part::point:
        return QCursor(Qt::SizeAllCursor);
    case Part::from:
    case Part::to:
        return QCursor(Qt::SizeHorCursor);
    default:
        return QCursor(Qt::SizeVerCursor);
    }
}

} // namespace syntonon
