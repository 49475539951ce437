// The lanes as one sees and handles them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/plot/goal_grip_tool.h"
#include "app/plot/lane_curves.h"
#include "app/plot/lane_plot.h"
#include "app/plot/stage_grip_tool.h"

namespace syntonon {

// Curves below, and above them what moves with the pointer: labels, grips, plumb line.
class LaneStack : public LanePlot {
    Q_OBJECT

public:
    explicit LaneStack(Session& session, QWidget* parent = nullptr);

    void set_goal_editing(bool active);
    void change_range(Lane lane, const LaneRange& range);
    // Moves the plumb line by keyboard: by octaves, from the middle when there is none.
    void move_plumb(double octaves);
    void toggle_plumb_pin();

    const StageGripTool& stage_grips() const { return stage_grips_; }
    const GoalGripTool& goal_grips() const { return goal_grips_; }

signals:
    void goal_asked_for();

protected:
    bool event(QEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    class Overlay;
    void paint_overlay(QPainter& painter);
    void paint_labels(QPainter& painter);
    std::array<LaneTool*, 2> tools() { return {&goal_grips_, &stage_grips_}; }
    LaneTool* holding();

    Session& session_;
    LaneCurves curves_;
    StageGripTool stage_grips_;
    GoalGripTool goal_grips_;
    Overlay* overlay_;
    QPointF pressed_at_;
    bool shows_focus_ = false; // it came by keyboard
};

} // namespace syntonon
