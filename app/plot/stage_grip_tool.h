// Dragging the selected stage on the magnitude lane.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/model/stage_grips.h"
#include "app/plot/lane_plot.h"
#include "app/plot/lane_tool.h"

namespace syntonon {

// A square on a stem: drag for frequency and gain; side grips or the wheel for width. Shift:
// finely; Ctrl: along one axis only; arrow keys nudge, Page Up and Page Down widen and narrow;
// Escape takes a drag back.
class StageGripTool : public LaneTool {
public:
    StageGripTool(LanePlot& plot, Session& session) : plot_(plot), session_(session) {}

    void paint(QPainter& painter) override;
    bool press(const QMouseEvent& event) override;
    bool move(const QMouseEvent& event) override;
    void release() override;
    bool key(const QKeyEvent& event) override;
    bool wheel(const QPointF& at, double clicks, bool fine) override;
    std::optional<QCursor> cursor_at(const QPointF& point) const override;
    bool is_holding() const override { return held_ != Handle::none; }

    // Where the square is drawn; nothing without a selected stage that can be designed.
    std::optional<QPointF> grip_point() const;
    std::optional<QPointF> side_point(bool upper) const;
    // Where the stage's name is written.
    std::optional<QRectF> label_box() const;

private:
    enum class Handle { none, grip, side };

    std::optional<StageGrips> grips() const;
    void nudge(double octaves, double db);

    LanePlot& plot_;
    Session& session_;
    Handle held_ = Handle::none;
    QString gesture_;
    QPointF pressed_at_; // the pointer's
    QPointF handle_at_;  // the handle's, at the press
    QPointF travelled_;  // the handle's, with fine movement scaled
    QPointF last_;
};

} // namespace syntonon
