// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/measure/impulse_plot.h"

#include "app/plot/lane_view.h"
#include "app/plot/sample_plot.h"
#include "app/widgets/line_text.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "core/base/units.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>
#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

namespace syntonon {
namespace {

constexpr double gate_corner_size = 4, corner_reach = 8, least_level_db = -90;
constexpr std::array corner_times = {&Gate::from_s, &Gate::full_from_s, &Gate::full_to_s,
                                     &Gate::to_s};

} // namespace

ImpulsePlot::ImpulsePlot(QWidget* parent) : QWidget(parent) {
    setAttribute(Qt::WA_OpaquePaintEvent);
    setMinimumSize(200, 90);
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Impulse response and its gate"));
    setToolTip(
        tr("Drag a corner of the gate; left and right move the one in hand, up and down take "
           "another. The wheel shows more or less of the time, a double click all of it"));
}

void ImpulsePlot::show_impulse(const SharedValue<Measurement>* measured, double middle_s,
                               const QString& otherwise) {
    const bool same =
        measured != nullptr && measured_ && measured->same_as(*measured_) && middle_s == middle_s_;
    otherwise_ = otherwise;
    if (same) {
        return;
    }
    const bool first = !measured_;
    measured_ = measured != nullptr ? std::optional(*measured) : std::nullopt;
    middle_s_ = middle_s;
    make_values();
    if (first) {
        show_gate_whole();
    }
    update();
}

void ImpulsePlot::make_values() {
    extremes_.reset();
    values_.clear();
    if (!measured_) {
        return;
    }
    values_ = (*measured_)->impulse.samples;
    if (form_ == ImpulseForm::step) {
        std::partial_sum(values_.begin(), values_.end(), values_.begin());
    } else if (form_ == ImpulseForm::level) {
        double greatest = 0;
        for (const double x : values_) {
            greatest = std::max(greatest, std::abs(x));
        }
        for (double& x : values_) {
            x = x == 0 ? least_level_db
                       : std::max(least_level_db, db_from_ratio(std::abs(x) / greatest));
        }
    }
    extremes_ = std::make_shared<const SampleExtremes>(values_);
}

void ImpulsePlot::show_gate(const std::optional<Gate>& gate) {
    const bool appears = gate && !gate_;
    gate_ = gate;
    if (appears) {
        show_gate_whole();
    }
    update();
}

void ImpulsePlot::show_gate_whole() {
    constexpr double usual_ms = 60, beside = 0.08;
    double from = -5, to = usual_ms;
    if (gate_) {
        from = 1e3 * gate_->from_s;
        to = 1e3 * gate_->to_s;
    }
    const double room = beside * (to - from);
    show_ms(from - room, to + room);
}

void ImpulsePlot::show_form(ImpulseForm form) {
    if (form != form_) {
        form_ = form;
        make_values();
        update();
    }
}

void ImpulsePlot::show_ms(double from, double to) {
    constexpr double least_ms = 0.2;
    if (!measured_ || !(to > from)) {
        return;
    }
    const ImpulseResponse& impulse = (*measured_)->impulse;
    const double begin = 1e3 * (impulse.seconds_of(0) - middle_s_);
    const double end = 1e3 * (impulse.seconds_of(impulse.samples.size()) - middle_s_);
    const double spare = 0.05 * (end - begin);
    from_ms_ = std::max(from, begin - spare);
    to_ms_ = std::max(std::min(to, end + spare), from_ms_ + least_ms);
    update();
}

QRectF ImpulsePlot::area() const {
    constexpr double left = 54, bottom = 20, top = 6, right = 12;
    return QRectF(rect()).adjusted(left, top, -right, -bottom);
}

double ImpulsePlot::ms_at(double x) const {
    const QRectF room = area();
    return from_ms_ + (x - room.left()) / room.width() * (to_ms_ - from_ms_);
}

double ImpulsePlot::x_of(double ms) const {
    const QRectF room = area();
    return room.left() + (ms - from_ms_) / (to_ms_ - from_ms_) * room.width();
}

QPointF ImpulsePlot::corner(int which) const {
    if (!gate_) {
        return {};
    }
    const bool open = which == 1 || which == 2;
    constexpr double inset = 0.06;
    const QRectF room = area();
    return {x_of(1e3 * gate_.value().*corner_times[static_cast<std::size_t>(which)]),
            open ? room.top() + inset * room.height() : room.bottom() - inset * room.height()};
}

std::optional<int> ImpulsePlot::corner_at(const QPointF& point) const {
    if (!gate_ || !measured_) {
        return std::nullopt;
    }
    for (int which = 0; which < 4; ++which) {
        const QPointF at = corner(which) - point;
        if (std::max(std::abs(at.x()), std::abs(at.y())) <= corner_reach) {
            return which;
        }
    }
    return std::nullopt;
}

// Between its neighbours.
void ImpulsePlot::move_corner(int which, double ms) {
    Gate moved = *gate_;
    const auto at = static_cast<std::size_t>(which);
    double s = ms / 1e3;
    constexpr double apart_s = 1e-5;
    if (which > 0) {
        s = std::max(s, moved.*corner_times[at - 1] + (which == 3 ? apart_s : 0));
    }
    if (which < 3) {
        s = std::min(s, moved.*corner_times[at + 1]);
    }
    moved.*corner_times[at] = s;
    if (!(moved == *gate_)) {
        emit gate_dragged(moved);
    }
}

void ImpulsePlot::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || !measured_) {
        return;
    }
    held_ = corner_at(event->position());
    if (held_) {
        in_hand_ = *held_;
        update();
    } else {
        pans_from_ = event->position();
    }
}

void ImpulsePlot::mouseMoveEvent(QMouseEvent* event) {
    if (held_) {
        move_corner(*held_, ms_at(event->position().x()));
    } else if (pans_from_) {
        const double by = ms_at(pans_from_->x()) - ms_at(event->position().x());
        pans_from_ = event->position();
        show_ms(from_ms_ + by, to_ms_ + by);
    } else {
        setCursor(corner_at(event->position()) ? Qt::SizeHorCursor : Qt::ArrowCursor);
        const bool inside = measured_ && area().contains(event->position());
        emit pointed_at(inside ? std::optional(ms_at(event->position().x())) : std::nullopt);
    }
}

void ImpulsePlot::mouseReleaseEvent(QMouseEvent*) {
    const bool dragged = held_.has_value();
    held_.reset();
    pans_from_.reset();
    if (dragged) {
        emit drag_ended();
    }
}

void ImpulsePlot::mouseDoubleClickEvent(QMouseEvent*) {
    constexpr double all = 1e9;
    show_ms(-all, all);
}

void ImpulsePlot::zoom(double by, double about_ms) {
    show_ms(about_ms + (from_ms_ - about_ms) * by, about_ms + (to_ms_ - about_ms) * by);
}

void ImpulsePlot::wheelEvent(QWheelEvent* event) {
    constexpr double a_click = 120;
    zoom(std::pow(0.8, event->angleDelta().y() / a_click), ms_at(event->position().x()));
    event->accept();
}

void ImpulsePlot::keyReleaseEvent(QKeyEvent* event) {
    const bool moved = event->key() == Qt::Key_Left || event->key() == Qt::Key_Right;
    if (moved && !event->isAutoRepeat()) {
        emit drag_ended();
    }
    QWidget::keyReleaseEvent(event);
}

void ImpulsePlot::keyPressEvent(QKeyEvent* event) {
    const bool back = event->key() == Qt::Key_Left, forth = event->key() == Qt::Key_Right;
    if (gate_ && (back || forth)) {
        const double step =
            (to_ms_ - from_ms_) * (event->modifiers().testFlag(Qt::ShiftModifier) ? 0.001 : 0.01);
        const double now = 1e3 * gate_.value().*corner_times[static_cast<std::size_t>(in_hand_)];
        move_corner(in_hand_, now + (forth ? step : -step));
    } else if (event->key() == Qt::Key_Up || event->key() == Qt::Key_Down) {
        in_hand_ = (in_hand_ + (event->key() == Qt::Key_Up ? 1 : 3)) % 4;
        update();
    } else if (event->key() == Qt::Key_Plus || event->key() == Qt::Key_Minus) {
        zoom(event->key() == Qt::Key_Plus ? 0.8 : 1.25, 0);
    } else {
        QWidget::keyPressEvent(event);
    }
}

void ImpulsePlot::leaveEvent(QEvent*) {
    emit pointed_at(std::nullopt);
}

void ImpulsePlot::paint_axis(QPainter& painter) const {
    const QRectF room = area();
    const double step =
        round_step((to_ms_ - from_ms_) / std::max(2, static_cast<int>(room.width() / 60)));
    for (double ms = std::ceil(from_ms_ / step) * step; ms <= to_ms_; ms += step) {
        const double x = x_of(ms);
        painter.setPen(std::abs(ms) < step / 1e3 ? theme().hairline : theme().grid);
        painter.drawLine(QPointF(x, room.top()), QPointF(x, room.bottom()));
        painter.setPen(theme().soft);
        const QString text = shown_number(std::abs(ms) < step / 1e3 ? 0 : ms, 4);
        const bool last = ms + step > to_ms_;
        draw_line(painter, QRectF(x - 30, room.bottom() + 3, 60, 16), Qt::AlignCenter,
                  last ? text + tr(" ms") : text);
    }
}

void ImpulsePlot::paint_gate(QPainter& painter) const {
    if (!gate_) {
        return;
    }
    const QRectF room = area();
    const double low = corner(0).y(), high = corner(1).y();
    QPolygonF line;
    for (double x = room.left(); x <= room.right(); ++x) {
        line << QPointF(x, low + (high - low) * gate_at(*gate_, ms_at(x) / 1e3));
    }
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(theme().copper, 1));
    painter.drawPolyline(line);
    for (int which = 0; which < 4; ++which) {
        const QPointF at = corner(which);
        if (at.x() >= room.left() - 1 && at.x() <= room.right() + 1) {
            painter.setBrush(which == in_hand_ && hasFocus() ? theme().copper : theme().panel);
            painter.drawRect(QRectF(at.x() - gate_corner_size, at.y() - gate_corner_size,
                                    2 * gate_corner_size, 2 * gate_corner_size));
        }
    }
}

void ImpulsePlot::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().ground);
    painter.setFont(text_font(11));
    const QRectF room = area();
    painter.fillRect(room, theme().panel);
    if (!measured_ || values_.empty()) {
        painter.setPen(theme().soft);
        painter.drawText(room.adjusted(16, 0, -16, 0), Qt::AlignCenter | Qt::TextWordWrap,
                         otherwise_);
        return;
    }
    paint_axis(painter);
    const ImpulseResponse& impulse = (*measured_)->impulse;
    const auto sample_of = [&](double ms) {
        return (ms / 1e3 + middle_s_) * impulse.sample_rate_hz
               - static_cast<double>(impulse.begins_at);
    };
    SampleStyle style;
    style.part = std::pair(sample_of(from_ms_), sample_of(to_ms_));
    if (form_ == ImpulseForm::level) {
        style.range = std::pair(least_level_db, 5.0);
    }
    const SamplePlot plot(values_, style, extremes_);
    painter.save();
    plot.paint(painter, room, theme().ink);
    painter.restore();
    paint_gate(painter);
    painter.setPen(theme().hairline);
    painter.setBrush(Qt::NoBrush);
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.drawRect(room);
}

} // namespace syntonon
