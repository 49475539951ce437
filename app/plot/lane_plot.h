// Three plots above one another on a common frequency axis.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QPointF>
#include <QRect>
#include <array>
#include <qcustomplot.h>

namespace syntonon {

enum class Lane { magnitude, phase, delay };
inline constexpr std::array all_lanes = {Lane::magnitude, Lane::phase, Lane::delay};

// A fixed vertical range; it changes only when the user asks.
struct LaneRange {
    double low = 0, high = 0;
    double step = 1; // between labelled lines

    bool operator==(const LaneRange&) const = default;
};

// Axes, grids and the mapping between pixels and values. Layers "still" (redrawn on the whole) and
// "live" (redrawn alone while something is dragged) take the curves.
class LanePlot : public QCustomPlot {
    Q_OBJECT

public:
    explicit LanePlot(QWidget* parent = nullptr);

    void set_frequency_range(double low_hz, double high_hz);
    double low_hz() const { return low_hz_; }
    double high_hz() const { return high_hz_; }
    void set_range(Lane lane, const LaneRange& range);
    const LaneRange& range(Lane lane) const { return ranges_[index(lane)]; }

    QRect rect_of(Lane lane) const;
    double x_of(double hz) const;
    double hz_at(double x) const;
    double y_of(Lane lane, double value) const;
    double value_at(Lane lane, double y) const;
    // The lane under a point, if any.
    std::optional<Lane> lane_at(const QPoint& point) const;

    QCPAxis* frequency_axis(Lane lane) const {
        return rects_[index(lane)]->axis(QCPAxis::atBottom);
    }
    QCPAxis* value_axis(Lane lane) const { return rects_[index(lane)]->axis(QCPAxis::atLeft); }
    QCPGraph* add_curve(Lane lane, const QString& layer, const QPen& pen);

    void apply_theme();
    void redraw_live();

private:
    static std::size_t index(Lane lane) { return static_cast<std::size_t>(lane); }

    std::array<QCPAxisRect*, 3> rects_{};
    std::array<LaneRange, 3> ranges_{};
    double low_hz_ = 20, high_hz_ = 20000;
};

} // namespace syntonon
