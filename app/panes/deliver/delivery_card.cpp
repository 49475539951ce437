// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/deliver/delivery_card.h"

#include "app/widgets/theme.h"

#include <QPainter>

namespace syntonon {
namespace {

constexpr int inset = 12;

// A filled disc: as it should be; an open lozenge: not; a ring: never written.
void paint_mark(QPainter& painter, const QPointF& at, DeliveryStanding standing) {
    const Theme& t = theme();
    painter.setRenderHint(QPainter::Antialiasing);
    if (standing == DeliveryStanding::as_study) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(t.met);
        painter.drawEllipse(at, 4.5, 4.5);
    } else if (standing == DeliveryStanding::never) {
        painter.setPen(QPen(t.soft, 1.3));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(at, 4.5, 4.5);
    } else {
        painter.setPen(QPen(t.not_met, 1.4));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolygon(QPolygonF(
            {at + QPointF(0, -6), at + QPointF(6, 0), at + QPointF(0, 6), at + QPointF(-6, 0)}));
    }
    painter.setRenderHint(QPainter::Antialiasing, false);
}

} // namespace

DeliveryCard::DeliveryCard(QWidget* parent) : QAbstractButton(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void DeliveryCard::show_delivery(const Delivery& delivery, const QString& what,
                                 const DeliveryState& state, bool chosen) {
    id_ = delivery.id;
    name_ = QString::fromStdString(delivery.name);
    what_ = what;
    state_ = state;
    chosen_ = chosen;
    setAccessibleName(QStringLiteral("%1: %2, %3").arg(name_, what_, state_.words));
    setToolTip(QStringLiteral("%1\n%2\n%3").arg(name_, what_, state_.words));
    update();
}

void DeliveryCard::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    QPainter painter(this);
    painter.setPen(QPen(chosen_ ? t.copper : t.hairline, 1));
    painter.setBrush(chosen_ ? t.raised : t.panel);
    painter.drawRect(rect().adjusted(0, 0, -1, -1));
    if (hasFocus()) {
        painter.setPen(QPen(t.copper, 1, Qt::DotLine));
        painter.drawRect(rect().adjusted(2, 2, -3, -3));
    }
    const int room = width() - 2 * inset;
    const auto line = [&](int top, int left, const QString& text, const QColor& colour) {
        painter.setPen(colour);
        painter.drawText(QRect(inset + left, top, room - left, 18),
                         Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(text, Qt::ElideRight, room - left));
    };
    painter.setFont(text_font(12, QFont::DemiBold));
    line(8, 0, name_, t.text);
    painter.setFont(text_font(11));
    line(29, 0, what_, t.soft);
    const bool fine =
        state_.standing == DeliveryStanding::as_study || state_.standing == DeliveryStanding::never;
    paint_mark(painter, QPointF(inset + 5, 61), state_.standing);
    line(52, 18, state_.words, fine ? t.text : t.not_met);
}

} // namespace syntonon
