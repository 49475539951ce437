// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/fir/time_forms_pane.h"
#include "app/plot/lane_view.h"
#include "app/widgets/number_cells.h"
#include "app/widgets/theme.h"
#include "app/widgets/thin_line.h"

#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

namespace syntonon {

TimeFormsPlot::TimeFormsPlot(QWidget* parent) : QWidget(parent) {
    setAttribute(Qt::WA_OpaquePaintEvent);
    setMinimumSize(120, 60);
    setAccessibleName(tr("Answers of the forms of phase, over time"));
    setToolTip(tr("Turn the wheel for a longer or shorter time, drag to move along it, double "
                  "click for all of it"));
    connect(&theme_notifier(), &ThemeNotifier::changed, this, [this] { update(); });
}

void TimeFormsPlot::show_forms(const std::vector<ShownForm>* forms, std::size_t chosen,
                               double rate_hz) {
    forms_ = forms;
    chosen_ = chosen;
    rate_hz_ = rate_hz;
    words_.clear();
    update();
}

void TimeFormsPlot::show_words(const QString& words) {
    words_ = words;
    update();
}

QRectF TimeFormsPlot::area() const {
    constexpr int left = 50, right = 8, above = 4, below = 18;
    return QRectF(left, above, width() - left - right, height() - above - below);
}

double TimeFormsPlot::whole() const {
    std::size_t most = 2;
    for (const ShownForm& shown : *forms_) {
        most = std::max(most, shown.form.answer.size());
    }
    return static_cast<double>(most - 1);
}

std::pair<double, double> TimeFormsPlot::shown_samples() const {
    return part_.value_or(std::pair(0.0, forms_ != nullptr ? whole() : 1.0));
}

void TimeFormsPlot::show_part(double from, double to) {
    constexpr double least = 8;
    const double span = std::clamp(to - from, std::min(least, whole()), whole());
    const double start = std::clamp(from, 0.0, whole() - span);
    part_ = std::pair(start, start + span);
    update();
}

double TimeFormsPlot::x_of(double sample) const {
    const auto [from, to] = shown_samples();
    return area().left() + area().width() * (sample - from) / (to - from);
}

std::pair<double, double> TimeFormsPlot::values() const {
    double low = 0, high = 0;
    for (const ShownForm& shown : *forms_) {
        const auto [least, most] = std::ranges::minmax(shown.form.answer);
        low = std::min(low, least);
        high = std::max(high, most);
    }
    const double room = std::max((high - low) * 0.06, 1e-12);
    return {low - room, high + room};
}

void TimeFormsPlot::paint_before(QPainter& painter) const {
    const TimeForm& form = (*forms_)[chosen_].form;
    const QRectF r = area();
    const QColor colour = TimeFormsPane::colour_of((*forms_)[chosen_].phase);
    if (!form.before.is_empty()) {
        QColor wash = colour;
        wash.setAlphaF(0.16F);
        painter.fillRect(QRectF(QPointF(x_of(form.before.from), r.top()),
                                QPointF(x_of(form.before.to), r.bottom())),
                         wash);
    }
    painter.setPen(QPen(colour, 1, Qt::DashLine));
    painter.drawLine(QPointF(x_of(form.onset), r.top()), QPointF(x_of(form.onset), r.bottom()));
}

void TimeFormsPlot::paint_curve(QPainter& painter, const ShownForm& shown,
                                const QColor& colour) const {
    const auto [low, high] = values();
    const auto [from, to] = shown_samples();
    const QRectF r = area();
    const auto& answer = shown.form.answer;
    const auto first = static_cast<std::size_t>(std::max(0.0, std::floor(from)));
    const auto last = static_cast<std::size_t>(std::ceil(to));
    QPolygonF line;
    for (std::size_t n = first; n <= last; ++n) {
        const double value = n < answer.size() ? answer[n] : 0; // nothing comes any more
        line << QPointF(x_of(static_cast<double>(n)),
                        r.bottom() - r.height() * (value - low) / (high - low));
    }
    painter.setPen(QPen(colour, 1.3));
    draw_thin_line(painter, line);
}

void TimeFormsPlot::paint_axes(QPainter& painter) const {
    const Theme& t = theme();
    const QRectF r = area();
    const auto [low, high] = values();
    const auto [from, to] = shown_samples();
    constexpr double apart_y = 26, apart_x = 60;
    painter.setFont(text_font(10));
    const double step = round_step((high - low) / std::max(1.0, r.height() / apart_y));
    for (double at = std::ceil(low / step) * step; at <= high; at += step) {
        const double y = r.bottom() - r.height() * (at - low) / (high - low);
        painter.setPen(t.grid);
        painter.drawLine(QPointF(r.left(), y), QPointF(r.right(), y));
        painter.setPen(t.soft);
        const double shown = std::abs(at) < step / 1e6 ? 0 : at;
        painter.drawText(QRectF(0, y - 7, r.left() - 6, 14), Qt::AlignRight | Qt::AlignVCenter,
                         shown_number(shown, 3));
    }
    const double ms = 1e3 / rate_hz_;
    const double step_ms = round_step((to - from) * ms / std::max(1.0, r.width() / apart_x));
    for (double at = std::ceil(from * ms / step_ms) * step_ms; at <= to * ms; at += step_ms) {
        const double x = x_of(at / ms);
        painter.setPen(t.grid);
        painter.drawLine(QPointF(x, r.top()), QPointF(x, r.bottom()));
        painter.setPen(t.soft);
        const double shown = std::abs(at) < step_ms / 1e6 ? 0 : at;
        painter.drawText(QRectF(x - 40, r.bottom() + 2, 80, 14), Qt::AlignCenter,
                         tr("%1 ms").arg(shown_number(shown, 4)));
    }
    painter.setPen(t.grid);
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(r);
}

void TimeFormsPlot::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().panel);
    if (!words_.isEmpty() || forms_ == nullptr || forms_->empty()) {
        painter.setFont(text_font(11));
        painter.setPen(theme().soft);
        painter.drawText(rect().adjusted(16, 0, -8, 0), Qt::AlignCenter | Qt::TextWordWrap, words_);
        return;
    }
    paint_axes(painter);
    painter.setClipRect(area());
    paint_before(painter);
    painter.setRenderHint(QPainter::Antialiasing);
    for (const ShownForm& shown : *forms_) {
        paint_curve(painter, shown, TimeFormsPane::colour_of(shown.phase));
    }
}

void TimeFormsPlot::wheelEvent(QWheelEvent* event) {
    if (forms_ == nullptr || forms_->empty()) {
        return;
    }
    constexpr double click = 1.3;
    const double by = event->angleDelta().y() > 0 ? 1 / click : click;
    const auto [from, to] = shown_samples();
    const double part = (event->position().x() - area().left()) / area().width();
    const double about = std::lerp(from, to, std::clamp(part, 0.0, 1.0));
    show_part(about - (about - from) * by, about + (to - about) * by);
}

void TimeFormsPlot::mousePressEvent(QMouseEvent* event) {
    held_x_ = event->position().x();
}

void TimeFormsPlot::mouseMoveEvent(QMouseEvent* event) {
    if (forms_ != nullptr && !forms_->empty() && event->buttons().testFlag(Qt::LeftButton)) {
        const auto [from, to] = shown_samples();
        const double by = (held_x_ - event->position().x()) / area().width() * (to - from);
        held_x_ = event->position().x();
        show_part(from + by, to + by);
    }
}

void TimeFormsPlot::mouseDoubleClickEvent(QMouseEvent*) {
    part_.reset();
    update();
}

} // namespace syntonon
