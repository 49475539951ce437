// A row of samples drawn truthfully: the tallest one is marked, and where it towers over all others
// the axis is broken and shows that it is.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QColor>
#include <QPainter>
#include <QRectF>
#include <QString>
#include <optional>
#include <span>
#include <utility>

namespace syntonon {

struct SampleStyle {
    bool decibels = false;   // 20 lg |value|, down to the floor
    double floor_db = -120;  // only then
    bool marks_main = false; // the tallest sample, with its value; the axis may be broken for it
    std::optional<std::pair<double, double>> range; // else what the values need
};

class SamplePlot {
public:
    // `values` must outlive it; all of them finite.
    SamplePlot(std::span<const double> values, SampleStyle style);

    // The tallest sample stands above the break.
    bool is_broken() const { return broken_; }
    // Without the broken part: the lowest and highest value on the axis.
    double low() const { return low_; }
    double high() const { return high_; }
    // "main sample 0.9881 at n = 0, axis broken at ±0.026", or empty.
    QString note() const;

    // Numbers stand in the 54 pixels left of the area.
    void paint(QPainter& painter, const QRectF& area, const QColor& curve) const;
    double y_of(double value, const QRectF& area) const; // of what is not broken

private:
    double shown(std::size_t i) const;
    void choose_range();
    QRectF unbroken(const QRectF& area) const;
    void paint_axis(QPainter& painter, const QRectF& area) const;
    void paint_values(QPainter& painter, const QRectF& area, const QColor& curve) const;
    void paint_main(QPainter& painter, const QRectF& area, const QColor& curve) const;
    double x_of(std::size_t i, const QRectF& area) const;

    std::span<const double> values_;
    SampleStyle style_;
    std::size_t main_ = 0;
    double low_ = 0, high_ = 1;
    bool broken_ = false;
};

} // namespace syntonon
