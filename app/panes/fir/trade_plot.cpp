// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/way_commands.h"
#include "app/panes/fir/trade_pane.h"
#include "app/plot/lane_view.h"
#include "app/widgets/number_cells.h"
#include "app/widgets/theme.h"
#include "core/base/number_text.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>
#include <limits>

namespace syntonon {
namespace {

// Round places between two values, at most so many.
std::vector<double> round_places(double low, double high, bool by_ratio, double most) {
    std::vector<double> places;
    if (!by_ratio) {
        const double step = round_step((high - low) / most);
        for (double at = std::ceil(low / step) * step; at <= high + step / 1e6; at += step) {
            places.push_back(at);
        }
        return places;
    }
    for (double decade = std::floor(std::log10(low)); decade <= std::ceil(std::log10(high));
         ++decade) {
        for (const double digit : {1.0, 2.0, 5.0}) {
            const double at = digit * std::pow(10, decade);
            if (at >= low * (1 - 1e-9) && at <= high * (1 + 1e-9)) {
                places.push_back(at);
            }
        }
    }
    return places;
}

} // namespace

TradePlot::TradePlot(Session& session, TradeCurve& curve, QWidget* parent)
    : QWidget(parent), session_(session), curve_(curve) {
    setAttribute(Qt::WA_OpaquePaintEvent);
    setMinimumSize(220, 60);
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("What another length or delay would gain"));
    connect(&curve_, &TradeCurve::changed, this, [this] {
        if (pointed_ && (*pointed_ >= curve_.points().size() || !curve_.points()[*pointed_])) {
            point_at(std::nullopt); // its curve is gone
        }
        fit_scales();
        update();
    });
    connect(&theme_notifier(), &ThemeNotifier::changed, this, [this] { update(); });
}

double TradePlot::Scale::part_of(double value) const {
    return by_ratio ? std::log(value / low) / std::log(high / low) : (value - low) / (high - low);
}

QRectF TradePlot::area() const {
    constexpr int left = 56, right = 16, above = 6, below = 20;
    return QRectF(left, above, width() - left - right, height() - above - below);
}

std::optional<double> TradePlot::gained(const TradePoint& point) const {
    const auto value = point.why.empty()
                           ? point.gained(curve_.of(), session_.study().sample_rate_hz)
                           : std::nullopt;
    return value && std::isfinite(*value) && (!gain_.by_ratio || *value > 0) ? value : std::nullopt;
}

void TradePlot::fit_scales() {
    constexpr double huge = std::numeric_limits<double>::max();
    const bool by_ratio = curve_.of() == TradeOf::ripple || curve_.of() == TradeOf::transition;
    given_ = {huge, -huge, false};
    gain_ = {huge, -huge, by_ratio};
    const auto widen = [&](const TradePoint& point) {
        const auto value = gained(point);
        const double at = point.given(curve_.of());
        given_.low = std::min(given_.low, at);
        given_.high = std::max(given_.high, at);
        if (value) {
            gain_.low = std::min(gain_.low, *value);
            gain_.high = std::max(gain_.high, *value);
        }
    };
    for (const auto& point : curve_.points()) {
        if (point) {
            widen(*point);
        }
    }
    if (curve_.present()) {
        widen(*curve_.present());
    }
    if (given_.low >= given_.high) {
        given_ = {given_.low < huge ? given_.low - 1 : 0, given_.low < huge ? given_.low + 1 : 1,
                  false};
    }
    if (gain_.low > gain_.high) {
        gain_ = {by_ratio ? 0.1 : 0, 1, by_ratio};
    }
    constexpr double room = 0.08, least_room = 1.1;
    if (by_ratio) {
        const double ratio = std::max(std::pow(gain_.high / gain_.low, room), least_room);
        gain_.low /= ratio;
        gain_.high *= ratio;
    } else {
        const double more = std::max((gain_.high - gain_.low) * room, 1.0);
        gain_.low -= more;
        gain_.high += more;
    }
}

QPointF TradePlot::position_of(const TradePoint& point) const {
    const QRectF r = area();
    return {r.left() + r.width() * given_.part_of(point.given(curve_.of())),
            r.bottom() - r.height() * gain_.part_of(gained(point).value_or(gain_.low))};
}

std::optional<std::size_t> TradePlot::nearest(const QPointF& at) const {
    constexpr double reach = 24;
    std::optional<std::size_t> found;
    double least = reach;
    for (std::size_t i = 0; i < curve_.points().size(); ++i) {
        const auto& point = curve_.points()[i];
        if (point && gained(*point)) {
            const double away = std::abs(position_of(*point).x() - at.x());
            if (away < least) {
                least = away;
                found = i;
            }
        }
    }
    return found;
}

void TradePlot::point_at(std::optional<std::size_t> point) {
    if (point == pointed_) {
        return;
    }
    pointed_ = point;
    session_.glimpse().end();
    const auto& there = point ? curve_.points().at(*point) : std::optional<TradePoint>();
    if (there && there->filter) {
        if (const auto chain = chain_with(session_, StageSpec(there->spec), *there->filter)) {
            const QString name = curve_.of() == TradeOf::delay
                                     ? tr("%1 samples").arg(shown_number(there->delay_samples, 4))
                                     : tr("%1 taps").arg(there->length);
            session_.glimpse().hold(session_.channel()->id, name, *chain);
        }
    }
    update();
    emit pointed();
}

void TradePlot::mouseMoveEvent(QMouseEvent* event) {
    point_at(area().adjusted(-6, -6, 6, 6).contains(event->position()) ? nearest(event->position())
                                                                       : std::nullopt);
    setCursor(pointed_ ? Qt::PointingHandCursor : Qt::ArrowCursor);
}

void TradePlot::mousePressEvent(QMouseEvent* event) {
    const auto there = nearest(event->position());
    if (event->button() == Qt::LeftButton && there) {
        point_at(std::nullopt);
        curve_.take(*there);
    }
}

void TradePlot::leaveEvent(QEvent*) {
    point_at(std::nullopt);
}

void TradePlot::hideEvent(QHideEvent*) {
    point_at(std::nullopt);
}

void TradePlot::keyPressEvent(QKeyEvent* event) {
    const auto& points = curve_.points();
    const int by = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    if (by != 0 && !points.empty()) {
        const auto middle =
            curve_.present() ? nearest(position_of(*curve_.present())) : std::nullopt;
        const int now = static_cast<int>(pointed_.value_or(middle.value_or(0)));
        const int to = std::clamp(now + by, 0, static_cast<int>(points.size()) - 1);
        point_at(static_cast<std::size_t>(to));
    } else if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) && pointed_) {
        const std::size_t taken = *pointed_;
        point_at(std::nullopt);
        curve_.take(taken);
    } else if (event->key() == Qt::Key_Escape && pointed_) {
        point_at(std::nullopt);
    } else {
        QWidget::keyPressEvent(event);
    }
}

void TradePlot::paint_axes(QPainter& painter) const {
    const Theme& t = theme();
    const QRectF r = area();
    constexpr double apart_x = 56, apart_y = 22;
    painter.setFont(text_font(10));
    for (const double at :
         round_places(given_.low, given_.high, false, std::max(2.0, r.width() / apart_x))) {
        const double x = r.left() + r.width() * given_.part_of(at);
        painter.setPen(t.grid);
        painter.drawLine(QPointF(x, r.top()), QPointF(x, r.bottom()));
        painter.setPen(t.soft);
        painter.drawText(QRectF(x - 30, r.bottom() + 3, 60, 14), Qt::AlignCenter,
                         shown_number(at, 4));
    }
    double last = r.bottom() + apart_y;
    for (const double at :
         round_places(gain_.low, gain_.high, gain_.by_ratio, std::max(2.0, r.height() / apart_y))) {
        const double y = r.bottom() - r.height() * gain_.part_of(at);
        painter.setPen(t.grid);
        painter.drawLine(QPointF(r.left(), y), QPointF(r.right(), y));
        if (last - y >= apart_y / 2) {
            painter.setPen(t.soft);
            painter.drawText(QRectF(0, y - 7, r.left() - 6, 14), Qt::AlignRight | Qt::AlignVCenter,
                             shown_number(at, 4));
            last = y;
        }
    }
    painter.setPen(t.grid);
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(r);
}

void TradePlot::paint_curve(QPainter& painter) const {
    const Theme& t = theme();
    painter.setRenderHint(QPainter::Antialiasing);
    QPolygonF line;
    for (const auto& point : curve_.points()) {
        if (point && gained(*point)) {
            line << position_of(*point);
        } else if (point) {
            painter.setPen(QPen(t.ink, 1));
            painter.drawPolyline(line); // it has a gap here
            line.clear();
        }
    }
    painter.setPen(QPen(t.ink, 1));
    painter.drawPolyline(line);
    painter.setBrush(t.panel);
    for (std::size_t i = 0; i < curve_.points().size(); ++i) {
        const auto& point = curve_.points()[i];
        if (point && gained(*point)) {
            const double size = pointed_ == i ? 4 : 2;
            painter.setPen(QPen(pointed_ == i ? t.copper : t.ink, pointed_ == i ? 2 : 1));
            painter.drawEllipse(position_of(*point), size, size);
        }
    }
    if (curve_.present() && gained(*curve_.present())) {
        constexpr double half = 4.5;
        const QPointF at = position_of(*curve_.present());
        painter.setPen(QPen(t.copper, 1.6));
        painter.setBrush(t.raised);
        painter.drawRect(QRectF(at.x() - half, at.y() - half, 2 * half, 2 * half));
    }
    painter.setRenderHint(QPainter::Antialiasing, false);
}

void TradePlot::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().panel);
    if (!curve_.problem().isEmpty() || curve_.points().empty()) {
        painter.setFont(text_font(11));
        painter.setPen(theme().soft);
        painter.drawText(rect().adjusted(16, 0, -16, 0), Qt::AlignCenter | Qt::TextWordWrap,
                         curve_.problem());
        return;
    }
    paint_axes(painter);
    paint_curve(painter);
}

} // namespace syntonon
