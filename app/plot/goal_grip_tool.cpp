// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/goal_grip_tool.h"

#include "app/model/goal_commands.h"
#include "app/model/target_commands.h"
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
            plot_.y_of(Lane::magnitude, p.value + target_anchor_db(session_))};
}

std::vector<QPointF> GoalGripTool::handle_points() const {
    std::vector<QPointF> points;
    for (const Handle& handle : active_ ? handles() : std::vector<Handle>()) {
        points.push_back(handle.at);
    }
    return points;
}

std::vector<GoalGripTool::Handle> GoalGripTool::handles() const {
    std::vector<Handle> all;
    const Goal* goal = current_goal(session_);
    if (!active_ || goal == nullptr || !plot_.view().shows(Lane::magnitude)) {
        return all;
    }
    const auto worked = session_.analysis()->goal;
    const QRect lane = plot_.rect_of(Lane::magnitude);
    for (int i = 0; i < static_cast<int>(goal->target.points.size()); ++i) {
        all.push_back({Part::point, i, point_at(i)});
    }
    for (int i = 0; i < static_cast<int>(goal->corridor.size()); ++i) {
        const CorridorRange& range = goal->corridor[static_cast<std::size_t>(i)];
        const double from =
            std::clamp<double>(plot_.x_of(std::max(range.from_hz, 0.1)), lane.left(), lane.right());
        const double to = std::clamp<double>(plot_.x_of(range.to_hz), lane.left(), lane.right());
        const auto y = [&](double db) { return plot_.y_of(Lane::magnitude, db); };
        const auto middle = band_at(range, *worked, plot_.hz_at((from + to) / 2));
        if (middle && range.above_db) {
            all.push_back({Part::above, i, {(from + to) / 2, y(middle->upper_db)}});
        }
        if (middle && range.below_db) {
            all.push_back({Part::below, i, {(from + to) / 2, y(middle->lower_db)}});
        }
        // Inside the ends, so that the end of one range and the start of the next stay apart. At
        // the target's height, or between the edges of an absolute range.
        const auto height = [&](double hz) {
            if (!range.absolute) {
                return y(target_level_at(session_, hz));
            }
            const auto below = below_db_at(range, hz);
            const double above = above_db_at(range, hz).value_or(1 - below.value_or(0));
            return y((above - below.value_or(1 - above)) / 2);
        };
        all.push_back({Part::from, i, {from + 5, height(range.from_hz)}});
        all.push_back({Part::to, i, {to - 5, height(range.to_hz)}});
    }
    // What lies above or below the lane is out of reach until its range is changed.
    std::erase_if(all, [&](const Handle& handle) {
        return handle.at.y() < lane.top() - 2 || handle.at.y() > lane.bottom() + 2;
    });
    return all;
}

void GoalGripTool::paint(QPainter& painter) {
    const Theme& t = theme();
    painter.setRenderHint(QPainter::Antialiasing, true);
    for (const Handle& handle : handles()) {
        const bool lies = handle.part == Part::above || handle.part == Part::below;
        painter.setPen(
            QPen(handle.part == Part::point && session_.held().points().contains(handle.index)
                     ? t.copper
                     : t.corridor_edge,
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
    gesture_ = session_.new_gesture();
    const bool more = event.modifiers().testFlag(Qt::ShiftModifier);
    if (held_.part == Part::point) {
        std::set<int> points = session_.held().points();
        if (more && points.contains(held_.index)) {
            points.erase(held_.index);
        } else if (!points.contains(held_.index)) {
            points = more ? points : std::set<int>{};
            points.insert(held_.index);
        }
        session_.held().hold(points);
    } else if (!more) {
        session_.held().hold({});
    }
    return held_.part != Part::none;
}

void GoalGripTool::hold_within(const QRectF& box) {
    std::set<int> points = session_.held().points();
    for (const Handle& handle : handles()) {
        if (handle.part == Part::point && box.contains(handle.at)) {
            points.insert(handle.index);
        }
    }
    session_.held().hold(points);
}

namespace {

// A side that is `from` where it is held comes to `to` there; one that slopes keeps its slope.
void shift_side(std::optional<double>& side, std::optional<double>& side_to, double from,
                double to) {
    if (!side_to) {
        side = to;
        return;
    }
    for (auto* end : {&side, &side_to}) {
        **end += to - from;
    }
}

} // namespace

void GoalGripTool::drag_range(Goal& goal, const QPointF& at) const {
    constexpr double least_ratio = 1.02, least_db = 0.05;
    CorridorRange& range = goal.corridor[static_cast<std::size_t>(held_.index)];
    const double hz = std::clamp(plot_.hz_at(at.x()), plot_.low_hz(), plot_.high_hz());
    const double deviation = plot_.value_at(Lane::magnitude, at.y())
                             - (range.absolute ? 0 : target_level_at(session_, hz));
    switch (held_.part) {
    case Part::from:
        range.from_hz = std::min(hz, range.to_hz / least_ratio);
        break;
    case Part::to:
        range.to_hz = std::max(hz, range.from_hz * least_ratio);
        break;
    case Part::above:
        shift_side(range.above_db, range.above_to_db, *above_db_at(range, hz),
                   std::max(std::round(deviation * 20) / 20,
                            least_db - below_db_at(range, hz).value_or(-least_db)));
        break;
    case Part::below:
        shift_side(range.below_db, range.below_to_db, *below_db_at(range, hz),
                   std::max(std::round(-deviation * 20) / 20,
                            least_db - above_db_at(range, hz).value_or(-least_db)));
        break;
    default:
        break;
    }
}

bool GoalGripTool::move(const QMouseEvent& event) {
    if (held_.part == Part::none || current_goal(session_) == nullptr) {
        return false;
    }
    if (held_.part == Part::point) {
        drag_points(event);
    } else {
        edit_goal(
            session_, QObject::tr("Move a corridor edge"),
            [&](Goal& goal) { drag_range(goal, event.position()); }, gesture_);
    }
    return true;
}

double GoalGripTool::snapped_level(int point, double level) const {
    constexpr double reach = 4; // pixels
    const auto& points = current_goal(session_)->target.points;
    const double anchor = target_anchor_db(session_);
    std::vector<double> places{std::round(level * 2) / 2};
    for (const int neighbour : {point - 1, point + 1}) {
        if (neighbour >= 0 && neighbour < static_cast<int>(points.size())) {
            places.push_back(points[static_cast<std::size_t>(neighbour)].value + anchor);
        }
    }
    const double y = plot_.y_of(Lane::magnitude, level);
    for (const double place : places) {
        if (std::abs(plot_.y_of(Lane::magnitude, place) - y) <= reach) {
            return place;
        }
    }
    return std::round(level * 20) / 20;
}

double GoalGripTool::snapped_hz(double hz) const {
    constexpr double reach = 4; // pixels
    const double decade = std::pow(10, std::floor(std::log10(std::max(hz, 1e-3))));
    for (const double part : {1.0, 1.25, 1.6, 2.0, 2.5, 3.15, 4.0, 5.0, 6.3, 8.0, 10.0}) {
        if (std::abs(plot_.x_of(part * decade) - plot_.x_of(hz)) <= reach) {
            return part * decade;
        }
    }
    return hz;
}

void GoalGripTool::drag_points(const QMouseEvent& event) {
    const auto& points = current_goal(session_)->target.points;
    const TargetPoint& grabbed = points[static_cast<std::size_t>(held_.index)];
    const bool freely = event.modifiers().testFlag(Qt::AltModifier);
    double hz = plot_.hz_at(event.position().x());
    double level = plot_.value_at(Lane::magnitude, event.position().y());
    if (!freely) {
        hz = snapped_hz(hz);
        level = snapped_level(held_.index, level);
    }
    std::set<int> moved = session_.held().points();
    moved.insert(held_.index);
    move_target_points(session_, moved, hz / grabbed.frequency_hz,
                       level - grabbed.value - target_anchor_db(session_), gesture_);
}

bool GoalGripTool::nudge(const QKeyEvent& event) {
    if (!active_ || session_.held().points().empty()
        || (event.modifiers() & ~(Qt::ShiftModifier | Qt::KeypadModifier)) != 0) {
        return false;
    }
    const double amount = event.modifiers().testFlag(Qt::ShiftModifier) ? 0.1 : 1;
    double octaves = 0, db = 0;
    switch (event.key()) {
    case Qt::Key_Left:
        octaves = -amount / 24;
        break;
    case Qt::Key_Right:
        octaves = amount / 24;
        break;
    case Qt::Key_Up:
        db = amount / 2;
        break;
    case Qt::Key_Down:
        db = -amount / 2;
        break;
    default:
        return false;
    }
    move_target_points(session_, session_.held().points(), std::exp2(octaves), db,
                       session_.continuing_gesture("nudge target points"));
    return true;
}

bool GoalGripTool::key(const QKeyEvent& event) {
    if (is_holding() && escapes(event, session_, gesture_)) {
        return true;
    }
    if (wants_key(event)) {
        const std::set<int> gone = session_.held().points();
        session_.held().hold({});
        remove_target_points(session_, gone);
        return true;
    }
    return nudge(event);
}

bool GoalGripTool::double_click(const QPointF& at) {
    const Goal* goal = current_goal(session_);
    if (!active_ || goal == nullptr || handle_at(at).part != Part::none) {
        return false;
    }
    const double hz = plot_.hz_at(at.x());
    const double level = target_level_at(session_, hz);
    const double line = plot_.y_of(Lane::magnitude, level);
    if (std::abs(line - at.y()) > handle_reach) {
        return false;
    }
    add_target_point(session_, hz, level);
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
