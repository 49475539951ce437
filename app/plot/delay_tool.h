// The delay of the selected FIR as a grip on the delay lane.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/plot/lane_plot.h"
#include "app/plot/lane_tool.h"
#include "core/design/fir.h"

#include <optional>

namespace syntonon {

// A square in the middle of the passband, with the delay in words: pulled down the filter is
// quicker than linear phase, and ripple and attenuation pay for it; near the taps' middle it is
// linear again. Where the lane is coarse the grip goes slower than the pointer; Shift is finer
// still.
class DelayTool : public LaneTool {
public:
    DelayTool(LanePlot& plot, Session& session) : plot_(plot), session_(session) {}

    void paint(QPainter& painter) override;
    bool press(const QMouseEvent& event) override;
    bool move(const QMouseEvent& event) override;
    void release() override { held_.reset(); }
    bool key(const QKeyEvent& event) override;
    std::optional<QCursor> cursor_at(const QPointF& point) const override;
    bool is_holding() const override { return held_.has_value(); }
    std::vector<QPointF> handle_points() const override;

private:
    struct Held {
        double y, last;
        QString gesture;
    };
    const FirSpec* fir() const; // that can have a delay of its own; null: the selected is none
    std::optional<QPointF> grip() const;
    double passband_hz() const;
    double ms_of(double samples) const;

    LanePlot& plot_;
    Session& session_;
    std::optional<Held> held_;
    struct Known {
        Filter of;
        double hz;
    };
    mutable std::optional<Known> known_; // where the passband's middle is
};

} // namespace syntonon
