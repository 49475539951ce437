// The bands that an FIR is asked for, as lines on the magnitude lane whose ends are dragged.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/plot/lane_plot.h"
#include "app/plot/lane_tool.h"
#include "core/design/fir.h"

#include <optional>
#include <vector>

namespace syntonon {

// Along: the band's edge, up to its neighbours'. Up and down: the gain, of both ends where the band
// is level. A band of gain 0 lies at the lane's lower edge and keeps its gain. Ctrl holds one
// direction, Shift is fine. Where the working of the selected stage marks frequencies (the extrema
// of an exchange, the end of an interpolator's band) its curve has ticks.
class BandTool : public LaneTool {
public:
    BandTool(LanePlot& plot, Session& session) : plot_(plot), session_(session) {}

    void paint(QPainter& painter) override;
    bool press(const QMouseEvent& event) override;
    bool move(const QMouseEvent& event) override;
    void release() override { held_.reset(); }
    bool key(const QKeyEvent& event) override;
    std::optional<QCursor> cursor_at(const QPointF& point) const override;
    bool is_holding() const override { return held_.has_value(); }
    std::vector<QPointF> handle_points() const override;

private:
    struct End {
        std::size_t band;
        bool upper; // its end, or its start
        bool operator==(const End&) const = default;
    };
    struct Held {
        End end;
        QPointF at, last;
        QString gesture;
    };
    const FirSpec* fir() const; // with bands of its own; null: the selected stage is none
    QPointF point_of(const FirBand& band, bool upper) const;
    double y_of(double gain) const;
    std::optional<End> end_at(const QPointF& point) const;
    void change(FirSpec& spec, const QPointF& to) const;
    void paint_bands(QPainter& painter, const FirSpec& spec) const;
    void paint_ticks(QPainter& painter);

    LanePlot& plot_;
    Session& session_;
    struct Ticks { // of a filter, kept while it is the same
        std::optional<Filter> of;
        std::vector<double> hz, level_db;
    };
    const Ticks& ticks();
    Ticks ticks_;
    std::optional<Held> held_;
};

} // namespace syntonon
