// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/fitted/order_plot.h"

#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double smallest = 1e-4; // below, every fit is perfect

} // namespace

OrderPlot::OrderPlot(QWidget* parent) : QWidget(parent) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setMinimumHeight(120);
    setAccessibleName(tr("Error by order"));
    setFont(text_font(11));
}

void OrderPlot::show_errors(std::vector<OrderError> errors, int order_now, const QString& unit) {
    errors_ = std::move(errors);
    order_now_ = order_now;
    unit_ = unit;
    if (pointed_ && *pointed_ >= errors_.size()) {
        pointed_.reset();
    }
    setAccessibleDescription(words());
    update();
}

QString OrderPlot::words() const {
    const auto at = std::ranges::find(errors_, order_now_, &OrderError::order);
    const OrderError* shown = pointed_ ? &errors_[*pointed_] : at != errors_.end() ? &*at : nullptr;
    if (shown == nullptr) {
        return {};
    }
    return tr("order %1: %2 rms, %3 %4 at worst")
        .arg(shown->order)
        .arg(shown_number(shown->rms, 3), shown_number(shown->worst, 3), unit_);
}

QRectF OrderPlot::area() const {
    return QRectF(rect()).adjusted(52, 10, -16, -22);
}

double OrderPlot::x_of(int order) const {
    const double low = errors_.front().order,
                 high = std::max(low + 1.0, 1.0 * errors_.back().order);
    constexpr double margin = 12;
    return area().left() + margin + (order - low) / (high - low) * (area().width() - 2 * margin);
}

double OrderPlot::y_of(double error) const {
    double least = infinity, most = smallest;
    for (const OrderError& one : errors_) {
        least = std::min(least, std::max(one.rms, smallest));
        most = std::max(most, one.worst);
    }
    const double low = std::floor(std::log10(least)), high = std::ceil(std::log10(most) + 1e-9);
    const double part = (std::log10(std::max(error, smallest)) - low) / std::max(1.0, high - low);
    return area().bottom() - part * area().height();
}

QPointF OrderPlot::position_of(const OrderError& error) const {
    return {x_of(error.order), y_of(error.rms)};
}

void OrderPlot::paint_axes(QPainter& painter) const {
    const QRectF room = area();
    for (double decade = 1e-6; decade < 1e7; decade *= 10) {
        const double y = y_of(decade);
        if (decade < smallest * 0.999 || y < room.top() - 1 || y > room.bottom() + 1) {
            continue;
        }
        painter.setPen(QPen(theme().grid, 1));
        painter.drawLine(QPointF(room.left(), y), QPointF(room.right(), y));
        painter.setPen(theme().soft);
        painter.drawText(QRectF(0, y - 8, room.left() - 6, 16), Qt::AlignRight | Qt::AlignVCenter,
                         QString::number(decade, 'g', 4));
    }
    double last = -infinity;
    for (const OrderError& error : errors_) {
        const double x = x_of(error.order);
        constexpr double least_apart = 24;
        if (x - last >= least_apart) {
            painter.setPen(theme().soft);
            painter.drawText(QRectF(x - 20, room.bottom() + 4, 40, 16), Qt::AlignCenter,
                             QString::number(error.order));
            last = x;
        }
    }
    painter.setPen(QPen(theme().hairline, 1));
    painter.drawRect(room);
    painter.setPen(theme().soft);
    painter.drawText(room.adjusted(0, 3, -6, 0), Qt::AlignRight | Qt::AlignTop,
                     tr("● rms  ◇ greatest, %1, by order").arg(unit_));
}

void OrderPlot::paint_errors(QPainter& painter) const {
    for (std::size_t i = 0; i < errors_.size(); ++i) {
        const OrderError& error = errors_[i];
        const double x = x_of(error.order);
        if (error.order == order_now_) {
            painter.setPen(QPen(theme().copper, 1));
            painter.drawLine(QPointF(x, area().top()), QPointF(x, area().bottom()));
        }
        const QColor colour =
            error.order == order_now_ || pointed_ == i ? theme().copper : theme().ink;
        painter.setPen(QPen(colour, 1));
        painter.setBrush(colour);
        painter.drawEllipse(position_of(error), 3, 3);
        painter.setBrush(Qt::NoBrush);
        const QPointF at(x, y_of(error.worst));
        constexpr double half = 4;
        painter.drawPolygon(QPolygonF({at + QPointF(0, -half), at + QPointF(half, 0),
                                       at + QPointF(0, half), at + QPointF(-half, 0)}));
    }
}

void OrderPlot::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    if (errors_.empty()) {
        painter.setPen(theme().soft);
        painter.drawText(rect(), Qt::AlignCenter,
                         tr("“Try orders” shows what more poles would bring"));
        return;
    }
    painter.setRenderHint(QPainter::Antialiasing);
    paint_axes(painter);
    paint_errors(painter);
}

std::optional<std::size_t> OrderPlot::nearest(const QPointF& at) const {
    std::optional<std::size_t> found;
    double least = 20; // pixels
    for (std::size_t i = 0; i < errors_.size(); ++i) {
        if (const double off = std::abs(x_of(errors_[i].order) - at.x()); off < least) {
            least = off;
            found = i;
        }
    }
    return found;
}

void OrderPlot::point_at(std::optional<std::size_t> place) {
    if (place != pointed_) {
        pointed_ = place;
        update();
        emit pointed();
    }
}

void OrderPlot::mouseMoveEvent(QMouseEvent* event) {
    point_at(nearest(event->position()));
}

void OrderPlot::mousePressEvent(QMouseEvent* event) {
    if (const auto at = nearest(event->position()); at && event->button() == Qt::LeftButton) {
        emit order_chosen(errors_[*at].order);
    }
}

void OrderPlot::leaveEvent(QEvent*) {
    point_at(std::nullopt);
}

void OrderPlot::keyPressEvent(QKeyEvent* event) {
    const bool back = event->key() == Qt::Key_Left, on = event->key() == Qt::Key_Right;
    if (errors_.empty() || (!back && !on && event->key() != Qt::Key_Return)) {
        QWidget::keyPressEvent(event);
        return;
    }
    if (!back && !on) {
        if (pointed_) {
            emit order_chosen(errors_[*pointed_].order);
        }
        return;
    }
    const auto now = std::ranges::find(errors_, order_now_, &OrderError::order);
    const std::size_t from = pointed_ ? *pointed_
                             : now != errors_.end()
                                 ? static_cast<std::size_t>(now - errors_.begin())
                                 : 0;
    point_at(back ? (from > 0 ? from - 1 : 0) : std::min(from + 1, errors_.size() - 1));
}

} // namespace syntonon
