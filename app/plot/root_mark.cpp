// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/root_mark.h"

#include "app/widgets/theme.h"
#include "core/base/units.h"

#include <QObject>
#include <QPolygonF>
#include <cmath>

namespace syntonon {
namespace {

constexpr double half_mark = 4.2;
constexpr double half_frame = 7.5;

// As a filled band between two polygons: of hundreds of rings Qt's stroker would take longer than
// all else in the pane.
void draw_ring(QPainter& painter, const QPointF& at) {
    constexpr int corners = 28;
    const double width = painter.pen().widthF();
    QPolygonF band;
    band.reserve(2 * corners + 2);
    for (const double radius : {half_mark + width / 2, half_mark - width / 2}) {
        for (int k = 0; k <= corners; ++k) {
            const double angle = 2 * pi * k / corners;
            band << at + radius * QPointF(std::cos(angle), std::sin(angle));
        }
    }
    const QPen pen = painter.pen();
    painter.setBrush(pen.color());
    painter.setPen(Qt::NoPen);
    painter.drawPolygon(band, Qt::OddEvenFill);
    painter.setPen(pen);
    painter.setBrush(Qt::NoBrush);
}

} // namespace

void draw_root_shape(QPainter& painter, const QPointF& at, bool is_pole) {
    painter.setBrush(Qt::NoBrush);
    if (is_pole) {
        painter.drawLine(at + QPointF(-half_mark, -half_mark), at + QPointF(half_mark, half_mark));
        painter.drawLine(at + QPointF(-half_mark, half_mark), at + QPointF(half_mark, -half_mark));
    } else {
        draw_ring(painter, at);
    }
}

void draw_root_mark(QPainter& painter, const QPointF& at, const RootMark& mark) {
    const Theme& t = theme();
    const QColor plain = mark.is_selected ? t.copper : t.ink;
    painter.setPen(QPen(mark.is_unstable ? t.not_met : plain,
                        mark.is_unstable || mark.is_selected ? 1.6 : 1.2));
    draw_root_shape(painter, at, mark.is_pole);
    if (mark.is_in_hand) {
        painter.setPen(QPen(t.copper, 1));
        painter.drawRect(
            QRectF(at.x() - half_frame, at.y() - half_frame, 2 * half_frame, 2 * half_frame));
    }
    if (mark.count > 1) {
        painter.setPen(plain);
        painter.setFont(text_font(10));
        painter.drawText(at + QPointF(half_mark + 2, half_mark + 7),
                         QObject::tr("×%1").arg(mark.count));
    }
}

} // namespace syntonon
