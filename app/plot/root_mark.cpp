// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/root_mark.h"

#include "app/widgets/theme.h"

#include <QObject>

namespace syntonon {
namespace {

constexpr double half = 4.2;
constexpr double half_frame = 7.5;

} // namespace

void draw_root_shape(QPainter& painter, const QPointF& at, bool is_pole) {
    painter.setBrush(Qt::NoBrush);
    if (is_pole) {
        painter.drawLine(at + QPointF(-half, -half), at + QPointF(half, half));
        painter.drawLine(at + QPointF(-half, half), at + QPointF(half, -half));
    } else {
        painter.drawEllipse(at, half, half);
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
        painter.drawText(at + QPointF(half + 2, half + 7), QObject::tr("×%1").arg(mark.count));
    }
}

} // namespace syntonon
