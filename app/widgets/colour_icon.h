// A patch of colour beside a name.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QColor>
#include <QIcon>
#include <QPainter>
#include <QPixmap>

namespace syntonon {

enum class Patch { square, disc, line };

inline QIcon colour_icon(const QColor& colour, Patch patch) {
    constexpr int size = 16;
    QPixmap pixmap(size, size);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    if (patch == Patch::disc) {
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(Qt::NoPen);
        painter.setBrush(colour);
        painter.drawEllipse(QRectF(3, 3, 10, 10));
    } else {
        painter.fillRect(patch == Patch::square ? QRect(3, 3, 10, 10) : QRect(1, 7, 14, 2), colour);
    }
    return QIcon(pixmap);
}

} // namespace syntonon
