// Plots above one another on a common frequency axis.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/plot/lane_view.h"

#include "core/filter/axis.h"
#include <QList>
#include <QPen>
#include <QPointF>
#include <QRect>
#include <QString>

#include <QWidget>
#include <array>
#include <functional>
#include <optional>
#include <span>
#include <utility>
#include <vector>

class QCPAxis;
class QCPAxisRect;
class QCPGraph;
class QCustomPlot;

namespace syntonon {

// What a response does at -f and, for a sampled filter, at fs - f.
enum class Symmetry { even, odd };

// A curve on a lane; a handle, as cheap to copy as a pointer. The plot owns what it names.
class LaneCurve {
public:
    LaneCurve() = default;
    explicit LaneCurve(QCPGraph* graph) : graph_(graph) {}

    void set_pen(const QPen& pen);
    void set_dots(const QColor& colour, double size); // instead of a line
    void set_smooth(bool smooth);
    void fill_to(LaneCurve other, const QBrush& brush);
    void set_name(const QString& name);
    QString name() const;
    void clear();
    // Where its points with x from left to right are; none while it is not shown.
    std::vector<QPointF> pixels_between(double left, double right) const;
    // In pixels, where the curve is shown and the point is on its lane.
    std::optional<double> distance_to(const QPointF& point) const;

    QCPGraph* graph() const { return graph_; }

private:
    QCPGraph* graph_ = nullptr;
};

// Axes, grids and the mapping between pixels and values. Values are in the lane's own unit (dB,
// log10 of the weight, degrees, ms) whatever the axis shows. Layers "still" (redrawn on the whole)
// and "live" (redrawn alone while something is dragged) take the curves. The plotting widget fills
// this one and takes no events; its header is dear to compile, so it is included in
// lane_plot.cpp only.
class LanePlot : public QWidget {
    Q_OBJECT

public:
    explicit LanePlot(QWidget* parent = nullptr);
    ~LanePlot() override;

    const LaneView& view() const { return view_; }
    void set_view(const LaneView& view);
    const Axis& axis() const { return axis_; }
    double sample_rate_hz() const { return axis_.sample_rate_hz; }
    void set_axis(const Axis& axis);
    // Room kept free to the right of the lanes.
    void set_side_room(int pixels);
    const LaneZoom& zoom() const { return zoom_; }
    // A range that no axis can show leaves its lane as it was.
    void set_zoom(const LaneZoom& zoom);
    const LaneRange& range(Lane lane) const { return zoom_.of(lane); }
    // The frequencies shown when nothing is magnified.
    std::pair<double, double> whole_frequencies() const;
    bool shows_all_frequencies() const;

    // The lowest and highest shown frequency; of the two-sided and mirrored views, of what the
    // filter itself has (0 to Nyquist).
    double low_hz() const;
    double high_hz() const;

    QRect rect_of(Lane lane) const; // empty while the lane is not shown
    QRect rect_of_all() const;
    Lane top_lane() const;
    Lane bottom_lane() const;
    double x_of(double axis_hz) const;
    double axis_hz_at(double x) const;
    double hz_at(double x) const; // folded into 0 to Nyquist
    double y_of(Lane lane, double value) const;
    double value_at(Lane lane, double y) const;
    // The lane under a point, if any; with `margin` also the one whose numbers are under it.
    std::optional<Lane> lane_at(const QPoint& point, bool margin = false) const;

    QCPAxis* frequency_axis(Lane lane) const;
    QCPAxis* value_axis(Lane lane) const;
    LaneCurve add_curve(Lane lane, const QString& layer, const QPen& pen);
    void remove_curve(LaneCurve curve);
    std::vector<LaneCurve> all_curves() const;
    // What stands beside the axes since the last redraw.
    QStringList frequency_numbers() const;
    QStringList value_numbers(Lane lane) const;
    // The least and greatest value of a curve that lies on this lane, at the shown frequencies.
    std::optional<std::pair<double, double>> extent_of(LaneCurve curve, Lane lane) const;
    // `values` in the lane's unit at ascending frequencies in 0 to Nyquist, mirrored where the view
    // says so.
    void set_data(LaneCurve curve, Lane lane, std::span<const double> hz,
                  const QList<double>& values, Symmetry symmetry = Symmetry::even) const;

    void apply_theme();
    void redraw_live();      // the layer "live", at once
    void redraw_when_idle(); // everything; shown once the events that wait are handled
    void redraw_now();       // everything; the lanes' places are right afterwards
    // Draws everything onto a device at this widget's size, then what `above` paints.
    void draw_onto(QPaintDevice& device, const std::function<void(QPainter&)>& above);

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    static std::size_t index(Lane lane) { return static_cast<std::size_t>(lane); }
    void lay_out();
    void apply_axes();
    void keep_showable(const LaneZoom& otherwise);
    double height_of(Lane lane) const; // before the layout has been worked out, too
    double axis_of(Lane lane, double value) const;
    double value_of(Lane lane, double axis) const;
    double folded(double axis_hz) const;

    QCustomPlot* canvas_;
    std::array<QCPAxisRect*, lane_count> rects_{};
    LaneView view_;
    LaneZoom zoom_;
    Axis axis_;
    int side_room_ = 0;
};

} // namespace syntonon
