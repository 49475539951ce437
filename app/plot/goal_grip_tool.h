// Dragging target points and corridor edges on the magnitude lane.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/plot/lane_plot.h"
#include "app/plot/lane_tool.h"

namespace syntonon {

// Only while the goal is open beside the lanes, so that it cannot be moved by accident. Rings are
// target points; a double click on the target line makes one. Shift and a click holds several, and
// so does Shift and a dragged box; held points move together, by the arrow keys too, and Delete
// removes them. Points snap to half decibels, to the levels of their neighbours and to round
// frequencies; Alt lets them move freely. Bars in the middle of the corridor's edges move its
// tolerances, those at its ends its range.
class GoalGripTool : public LaneTool {
public:
    GoalGripTool(LanePlot& plot, Session& session) : plot_(plot), session_(session) {}

    void set_active(bool active) { active_ = active; }
    bool is_active() const { return active_; }

    void paint(QPainter& painter) override;
    bool press(const QMouseEvent& event) override;
    bool move(const QMouseEvent& event) override;
    void release() override { held_.part = Part::none; }
    bool key(const QKeyEvent& event) override;
    // Whether key() would do something with it.
    bool wants_key(const QKeyEvent& event) const {
        return event.key() == Qt::Key_Delete && active_ && !session_.held().points().empty();
    }
    // Holds the points inside the box.
    void hold_within(const QRectF& box);
    bool double_click(const QPointF& at);
    std::optional<QCursor> cursor_at(const QPointF& point) const override;
    bool is_holding() const override { return held_.part != Part::none; }
    std::vector<QPointF> handle_points() const override;

    QPointF point_at(int target_point) const;

private:
    enum class Part { none, point, from, to, above, below };
    struct Handle {
        Part part = Part::none;
        int index = 0;
        QPointF at;
    };

    std::vector<Handle> handles() const;
    Handle handle_at(const QPointF& point) const;
    void drag_range(Goal& goal, const QPointF& at) const;
    void drag_points(const QMouseEvent& event);
    bool nudge(const QKeyEvent& event);
    double snapped_level(int point, double level) const;
    double snapped_hz(double hz) const;

    LanePlot& plot_;
    Session& session_;
    bool active_ = false;
    Handle held_;
    QString gesture_;
};

} // namespace syntonon
