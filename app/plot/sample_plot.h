// A row of samples drawn truthfully: the tallest one is marked, and where it towers over all others
// the axis is broken and shows that it is.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/plot/sample_extremes.h"

#include <QColor>
#include <QPainter>
#include <QRectF>
#include <QString>
#include <memory>
#include <optional>
#include <span>
#include <utility>

namespace syntonon {

struct SampleStyle {
    bool decibels = false;   // 20 lg |value|, down to the floor
    double floor_db = -120;  // only then
    bool marks_main = false; // the tallest sample, with its value; the axis may be broken for it
    std::optional<std::pair<double, double>> range; // else what the values need
    // The samples at the left and at the right edge, parts of samples, too; else all.
    std::optional<std::pair<double, double>> part;
};

class SamplePlot {
public:
    // `values` must outlive it; all of them finite. Who draws the same ones often keeps their
    // extremes.
    SamplePlot(std::span<const double> values, SampleStyle style,
               std::shared_ptr<const SampleExtremes> extremes = nullptr);

    // The tallest sample stands above the break.
    bool is_broken() const { return broken_; }
    // Without the broken part: the lowest and highest value on the axis.
    double low() const { return low_; }
    double high() const { return high_; }
    // "main sample 0.9881 at n = 0, broken at ±0.026", or empty.
    QString note() const;

    // Numbers stand in the 54 pixels left of the area.
    void paint(QPainter& painter, const QRectF& area, const QColor& curve) const;
    double y_of(double value, const QRectF& area) const; // of what is not broken
    double sample_at(double x, const QRectF& area) const;
    // So many samples around `middle` as stems, with their place and value written below.
    void paint_magnified(QPainter& painter, const QRectF& area, std::size_t middle,
                         const QColor& curve) const;

private:
    double shown(std::size_t i) const;
    void choose_range();
    QRectF unbroken(const QRectF& area) const;
    void paint_axis(QPainter& painter, const QRectF& area) const;
    void paint_values(QPainter& painter, const QRectF& area, const QColor& curve) const;
    void paint_main(QPainter& painter, const QRectF& area, const QColor& curve) const;
    // For its value, where no other sample reaches; else nowhere: the note says it.
    std::optional<QRectF> beside_main(const QPointF& main, double width, const QRectF& area) const;
    bool is_free(const QRectF& box, const QRectF& area) const;
    double x_of(double sample, const QRectF& area) const;
    void paint_stems(QPainter& painter, const QRectF& area, const QColor& curve) const;
    QPolygonF line_of_extremes(const QRectF& area) const;
    double level(double size) const;
    std::pair<double, double> part() const;
    // What of the samples has to be drawn: those within the part, and one on either side.
    std::pair<std::size_t, std::size_t> drawn() const;

    std::span<const double> values_;
    SampleStyle style_;
    std::shared_ptr<const SampleExtremes> extremes_;
    std::size_t main_ = 0;
    double low_ = 0, high_ = 1;
    bool broken_ = false;
};

} // namespace syntonon
