// Lines, numbers and curves of a small drawing, over frequency or whatever else: for the window and
// for paper.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/widgets/theme.h"

#include <QColor>
#include <QPainter>
#include <QRectF>
#include <QString>
#include <vector>

namespace syntonon {

// Drawings are made of it. Numbers of the axes stand within the room, at the left and below.
class PaintedAxes {
public:
    using Values = std::vector<double>;

    PaintedAxes(QPainter& painter, const QRectF& room, const Theme& theme, double low_hz,
                double high_hz)
        : painter_(painter), area_(room.adjusted(46, 20, -8, -20)), theme_(theme), low_hz_(low_hz),
          high_hz_(high_hz) {}

    struct Entry {
        QColor colour;
        QString text;
        Qt::PenStyle line = Qt::SolidLine;
    };

protected:
    double part_of_hz(double hz) const;
    double y_of(double value) const {
        return area_.bottom() - (value - low_) / (high_ - low_) * area_.height();
    }
    Values parts_of_hz(const Values& hz) const;

    void number(const QRectF& room, Qt::Alignment where, const QString& text);
    void under_axis(double x, const QString& text); // never beyond the room
    void line_at(double x);

    void ground();
    void frame();
    void frequency_axis();
    void value_axis(const QString& unit); // from low_ to high_ by step_
    // Parts of the width from 0 to 1, and values; NaN: a gap.
    void curve(const Values& parts, const Values& values, const QPen& pen);
    // Above the area, so that it covers no curve.
    void legend(const QString& title, std::vector<Entry> entries);

    QPainter& painter_;
    QRectF area_;
    const Theme& theme_;
    double low_hz_, high_hz_;
    double low_ = 0, high_ = 1, step_ = 1;
};

} // namespace syntonon
