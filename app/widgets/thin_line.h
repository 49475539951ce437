// Curves as single segments: Qt strokes an antialiased polyline as a filled path, which costs
// several times as much as its one-pixel lines.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QLineF>
#include <QList>
#include <QPainter>
#include <QPolygonF>

namespace syntonon {

inline void draw_thin_line(QPainter& painter, const QPolygonF& points) {
    QList<QLineF> segments;
    segments.reserve(points.size());
    for (qsizetype i = 1; i < points.size(); ++i) {
        segments.append(QLineF(points[i - 1], points[i]));
    }
    painter.drawLines(segments);
}

} // namespace syntonon
