// Dragging the selected stage on the magnitude lane.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/stage_grips.h"
#include "app/plot/lane_plot.h"
#include "app/plot/lane_tool.h"

namespace syntonon {

// Handles, the main one a square on a stem: drag for frequency and gain; side handles or the wheel
// for width. Shift:
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
    bool is_holding() const override { return held_.has_value(); }

    // Where a handle is drawn, by its key; nothing without a selected stage that has it.
    std::optional<QPointF> grip_point(std::string_view key) const;
    std::optional<QPointF> grip_point() const; // the main one's
    std::vector<QPointF> handle_points() const override;
    // Where the stage's name is written.
    std::optional<QRectF> label_box() const;

private:
    struct Placed {
        Grip grip;
        QPointF at;
    };
    std::vector<Grip> grips() const;
    std::vector<Placed> placed() const; // the main one first
    const Placed* at_point(const std::vector<Placed>& all, const QPointF& point) const;
    QString name_of(const Grip& grip) const;
    void nudge(double octaves, double db);

    LanePlot& plot_;
    Session& session_;
    std::optional<Grip> held_;
    QString gesture_;
    QPointF pressed_at_; // the pointer's
    QPointF handle_at_;  // the handle's, at the press
    QPointF travelled_;  // the handle's, with fine movement scaled
    QPointF last_;
};

} // namespace syntonon
