// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/knob_bar.h"

#include "app/widgets/theme.h"
#include "core/base/number_text.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double edge = 9, line_y = 15, handle = 6;

} // namespace

KnobBar::KnobBar(const QString& name, QWidget* parent) : QWidget(parent) {
    setAccessibleName(name);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setMinimumSize(160, 44);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void KnobBar::set_range(double low, double high, bool whole) {
    low_ = low;
    high_ = std::max(high, low + 1e-12);
    whole_ = whole;
    update();
}

void KnobBar::set_marks(std::vector<Mark> marks) {
    marks_ = std::move(marks);
    update();
}

void KnobBar::show_value(double value) {
    value_ = value;
    update();
}

double KnobBar::x_of(double value) const {
    const double part = std::clamp((value - low_) / (high_ - low_), 0.0, 1.0);
    return edge + part * (width() - 2 * edge);
}

double KnobBar::kept_in_range(double value) const {
    const double kept = std::clamp(value, low_, high_);
    return whole_ ? std::round(kept) : kept;
}

double KnobBar::value_at(double x) const {
    const double part = (x - edge) / (width() - 2 * edge);
    const double value = low_ + part * (high_ - low_);
    // To a thousandth of the range: nobody means the digits behind.
    const double unit = std::pow(10, std::floor(std::log10((high_ - low_) / 1000)));
    return kept_in_range(whole_ ? value : std::round(value / unit) * unit);
}

void KnobBar::step(double parts, bool fine) {
    const double by = whole_ ? parts : parts * (high_ - low_) / (fine ? 1000 : 100);
    const double unit = std::pow(10, std::floor(std::log10((high_ - low_) / 10000)));
    const double value = whole_ ? value_ + by : std::round((value_ + by) / unit) * unit;
    emit stepped(kept_in_range(value));
}

void KnobBar::mousePressEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton) {
        held_ = true;
        emit taken();
        emit turned(value_at(event->position().x()));
    }
}

void KnobBar::mouseMoveEvent(QMouseEvent* event) {
    if (held_) {
        emit turned(value_at(event->position().x()));
    }
}

void KnobBar::mouseReleaseEvent(QMouseEvent*) {
    held_ = false;
}

void KnobBar::keyPressEvent(QKeyEvent* event) {
    const bool fine = event->modifiers().testFlag(Qt::ShiftModifier);
    switch (event->key()) {
    case Qt::Key_Left:
    case Qt::Key_Down:
        step(-1, fine);
        break;
    case Qt::Key_Right:
    case Qt::Key_Up:
        step(1, fine);
        break;
    default:
        QWidget::keyPressEvent(event);
    }
}

void KnobBar::wheelEvent(QWheelEvent* event) {
    step(event->angleDelta().y() > 0 ? 1 : -1, event->modifiers().testFlag(Qt::ShiftModifier));
}

void KnobBar::focusInEvent(QFocusEvent* event) {
    QWidget::focusInEvent(event);
    update();
}

void KnobBar::focusOutEvent(QFocusEvent* event) {
    QWidget::focusOutEvent(event);
    update();
}

void KnobBar::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const double from = x_of(std::clamp(0.0, low_, high_)), to = x_of(value_);
    painter.setPen(QPen(t.hairline, 3));
    painter.drawLine(QPointF(edge, line_y), QPointF(width() - edge, line_y));
    painter.setPen(QPen(t.ink, 3));
    painter.drawLine(QPointF(from, line_y), QPointF(to, line_y));
    painter.setFont(text_font(11));
    for (const Mark& mark : marks_) {
        const double x = x_of(mark.value);
        painter.setPen(QPen(t.not_met, 2));
        painter.drawLine(QPointF(x, line_y - 8), QPointF(x, line_y + 8));
        const double room = painter.fontMetrics().horizontalAdvance(mark.words) + 2;
        const double left = std::clamp(x - room / 2, 0.0, std::max(0.0, width() - room));
        painter.drawText(QRectF(left, line_y + 11, room, 16), Qt::AlignCenter, mark.words);
    }
    painter.setPen(QPen(t.copper, hasFocus() ? 3 : 2));
    painter.setBrush(t.raised);
    painter.drawEllipse(QPointF(to, line_y), handle, handle);
}

} // namespace syntonon
