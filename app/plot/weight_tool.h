// Drawing the weight on its lane.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/weight_commands.h"
#include "app/plot/lane_plot.h"
#include "app/plot/lane_tool.h"

namespace syntonon {

// Rings are the points of the weight curve, of the selected FIR or the goal: drag them; a double
// click anywhere on the lane makes one; Delete removes the one held last.
class WeightTool : public LaneTool {
public:
    WeightTool(LanePlot& plot, Session& session) : plot_(plot), session_(session) {}

    void paint(QPainter& painter) override;
    bool press(const QMouseEvent& event) override;
    bool move(const QMouseEvent& event) override;
    void release() override { held_ = -1; }
    bool key(const QKeyEvent& event) override;
    bool wants_key(const QKeyEvent& event) const;
    bool double_click(const QPointF& at);
    std::optional<QCursor> cursor_at(const QPointF& point) const override;
    bool is_holding() const override { return held_ >= 0; }
    std::vector<QPointF> handle_points() const override;

    QPointF point_at(int weight_point) const;

private:
    DrawnWeights drawn() const; // nobody's where the lane is not shown
    WeightCurve points() const;
    QPointF point_at(const WeightPoint& point) const;
    int handle_at(const QPointF& point) const;

    LanePlot& plot_;
    Session& session_;
    int held_ = -1;
    int last_ = -1;
    QString gesture_;
};

} // namespace syntonon
