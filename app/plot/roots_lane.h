// The roots on the lanes' own frequency axis: in audio most crowd where the plane is too small.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/root_commands.h"
#include "app/plot/lane_plot.h"
#include "app/plot/lane_tool.h"

#include <complex>
#include <optional>
#include <vector>

namespace syntonon {

// Places on the lane: log10 of the seconds in which a root's answer falls by 60 dB, up to 10 s;
// then the circle; then, mirrored, log10 of those in which it rises by as much.
inline constexpr double circle_on_lane = 1.25;
double roots_lane_value(const std::complex<double>& root, const Axis& axis);
// The root of the upper half there; what says its decay alone keeps its frequency.
std::complex<double> root_on_lane(double hz, double lane_value, const Axis& axis);

// Dragged like in the roots pane: along for frequency, up and down for decay. Ctrl holds one of
// them, Shift is fine; zeros snap to the circle.
class RootsLane : public LaneTool {
public:
    RootsLane(LanePlot& plot, Session& session) : plot_(plot), session_(session) {}

    void paint(QPainter& painter) override;
    bool press(const QMouseEvent& event) override;
    bool move(const QMouseEvent& event) override;
    void release() override {
        drag_.reset();
        problem_.clear();
    }
    const QString& problem() const { return problem_; } // why the held root does not move
    bool key(const QKeyEvent& event) override;
    std::optional<QCursor> cursor_at(const QPointF& point) const override;
    bool is_holding() const override { return drag_.has_value(); }
    std::vector<QPointF> handle_points() const override;

    // Where a root is drawn; at the lane's edges where it lies beyond.
    QPointF point_of(const std::complex<double>& root) const;

private:
    struct Placed {
        RootRef ref;
        std::complex<double> value;
        int count;
        QPointF at;
    };
    std::vector<Placed> placed() const; // upper ones and those on the axis
    const Placed* at_point(const std::vector<Placed>& all, const QPointF& point) const;

    LanePlot& plot_;
    Session& session_;
    std::optional<RootDrag> drag_;
    QString problem_;
    QPointF pressed_at_, last_, travelled_, root_at_;
};

} // namespace syntonon
