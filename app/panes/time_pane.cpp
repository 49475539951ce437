// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/time_pane.h"

#include "app/widgets/theme.h"
#include "app/widgets/thin_line.h"
#include "core/base/number_text.h"
#include "core/base/units.h"

#include <QPainter>
#include <QWheelEvent>
#include <algorithm>
#include <array>
#include <cmath>

namespace syntonon {
namespace {

constexpr std::array lengths_ms = {2.0, 4.0, 8.0, 20.0, 50.0, 100.0, 200.0};
constexpr double decay_floor_db = -80;

// What is left of the energy after each sample, in dB of the whole.
std::vector<double> decay_of(const std::vector<double>& impulse) {
    std::vector<double> left(impulse.size());
    double energy = 0;
    for (std::size_t i = impulse.size(); i-- > 0;) {
        energy += impulse[i] * impulse[i];
        left[i] = energy;
    }
    for (double& v : left) {
        v = energy > 0 ? std::max(decay_floor_db, db_from_power(v / energy)) : decay_floor_db;
    }
    return left;
}

} // namespace

TimePane::TimePane(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setAttribute(Qt::WA_OpaquePaintEvent);
    setMinimumSize(160, 90);
    setAccessibleName(tr("Time response of the chain"));
    setToolTip(tr("Turn the wheel for a longer or shorter time"));
    connect(&session_, &Session::analysis_changed, this, [this] {
        stale_ = true;
        update();
    });
}

void TimePane::show_view(TimeView view) {
    view_ = view;
    stale_ = true;
    update();
}

double TimePane::shown_ms() const {
    return lengths_ms.at(static_cast<std::size_t>(zoom_));
}

void TimePane::compute() {
    stale_ = false;
    values_.clear();
    const auto analysis = session_.analysis();
    if (analysis == nullptr) {
        return;
    }
    const auto length = static_cast<std::size_t>(
        std::max(8.0, shown_ms() * 1e-3 * session_.study().sample_rate_hz));
    // A decay is the energy still to come, so it needs what follows the shown part.
    values_ = analysis->chain.impulse_response(view_ == TimeView::decay ? 2 * length : length);
    if (view_ == TimeView::step) {
        double sum = 0;
        for (double& v : values_) {
            v = sum += v;
        }
    } else if (view_ == TimeView::decay) {
        values_ = decay_of(values_);
        values_.resize(length);
    }
}

void TimePane::wheelEvent(QWheelEvent* event) {
    zoom_ = std::clamp(zoom_ + (event->angleDelta().y() > 0 ? -1 : 1), 0,
                       static_cast<int>(lengths_ms.size()) - 1);
    stale_ = true;
    update();
}

// What part of the values is shown, with some room.
TimePane::Scale TimePane::scale() const {
    if (view_ == TimeView::decay) {
        return {decay_floor_db, 0, -decay_floor_db * 0.06};
    }
    double high = std::max(1e-9, *std::ranges::max_element(values_));
    double low = std::min(0.0, *std::ranges::min_element(values_));
    // The first sample of an impulse response towers over what follows; the scale says what is
    // shown.
    if (view_ == TimeView::impulse && values_.size() > 1) {
        double rest = 0;
        for (std::size_t i = 1; i < values_.size(); ++i) {
            rest = std::max(rest, std::abs(values_[i]));
        }
        rest = std::max(rest, 0.02);
        high = std::min(high, 1.3 * rest);
        low = std::max(low, -1.3 * rest);
    }
    return {low, high, (high - low) * 0.06 + 1e-12};
}

void TimePane::paintEvent(QPaintEvent*) {
    if (stale_) {
        compute();
    }
    const Theme& t = theme();
    QPainter painter(this);
    painter.fillRect(rect(), t.panel);
    const QRectF area(48, 8, width() - 64, height() - 32);
    painter.setFont(text_font(11));
    painter.setPen(t.soft);
    painter.drawText(QRectF(area.left(), area.bottom() + 6, 40, 16),
                     Qt::AlignLeft | Qt::AlignVCenter, "0");
    painter.drawText(QRectF(area.right() - 60, area.bottom() + 6, 60, 16),
                     Qt::AlignRight | Qt::AlignVCenter, tr("%1 ms").arg(shown_ms()));
    const bool bounded = std::ranges::all_of(
        values_, [](double v) { return std::isfinite(v) && std::abs(v) < 1e12; });
    if (values_.empty() || !bounded) {
        painter.setPen(t.not_met);
        painter.drawText(area, Qt::AlignCenter,
                         values_.empty() ? QString()
                                         : tr("◇ grows without end: the chain is unstable"));
        return;
    }
    const Scale shown = scale();
    paint_axes(painter, area, shown);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(t.ink, 1));
    painter.setOpacity(session_.analysis()->waits_for.empty() ? 1 : 0.4);
    draw_thin_line(painter, line_in(area, shown));
}

double TimePane::Scale::y_of(double value, const QRectF& area) const {
    const double bottom = low - room, top = high + room;
    return area.bottom()
           - (std::clamp(value, bottom, top) - bottom) / (top - bottom) * area.height();
}

void TimePane::paint_axes(QPainter& painter, const QRectF& area, const Scale& shown) const {
    const bool decay = view_ == TimeView::decay;
    const double zero = decay ? -60 : 0;
    const double y_zero = shown.y_of(zero, area), y_high = shown.y_of(shown.high, area);
    painter.setPen(theme().grid);
    painter.drawRect(area);
    painter.drawLine(QPointF(area.left(), y_zero), QPointF(area.right(), y_zero));
    painter.setPen(theme().soft);
    const auto level = [&](double v) {
        return decay ? QString::fromStdString(signed_text(v, 0))
                     : QString::number(v, 'g', 2).replace('-', QStringLiteral("−"));
    };
    painter.drawText(QRectF(0, y_high - 4, 42, 14), Qt::AlignRight | Qt::AlignVCenter,
                     level(decay ? 0 : shown.high));
    painter.drawText(QRectF(0, y_zero - 7, 42, 14), Qt::AlignRight | Qt::AlignVCenter,
                     decay ? level(-60) : "0");
    const bool is_cut = view_ == TimeView::impulse && values_[0] > shown.high + shown.room;
    painter.drawText(QRectF(area.left(), area.bottom() + 6, area.width(), 16),
                     Qt::AlignHCenter | Qt::AlignVCenter,
                     decay    ? tr("energy left, dB")
                     : is_cut ? tr("first sample %1, cut off here").arg(values_[0], 0, 'f', 3)
                              : QString());
}

// Of more samples than pixels, each pixel's lowest and highest.
QPolygonF TimePane::line_in(const QRectF& area, const Scale& shown) const {
    QPolygonF line;
    const auto count = values_.size();
    const auto pixels = static_cast<std::size_t>(std::max(2.0, area.width()));
    const auto x_of = [&](std::size_t i) {
        return area.left() + area.width() * static_cast<double>(i) / static_cast<double>(count - 1);
    };
    if (count <= 2 * pixels) {
        for (std::size_t i = 0; i < count; ++i) {
            line << QPointF(x_of(i), shown.y_of(values_[i], area));
        }
        return line;
    }
    for (std::size_t p = 0; p < pixels; ++p) {
        const auto first = values_.begin() + static_cast<std::ptrdiff_t>(p * count / pixels),
                   last = values_.begin() + static_cast<std::ptrdiff_t>((p + 1) * count / pixels);
        const auto [lowest, highest] = std::minmax_element(first, last);
        const double x = area.left() + static_cast<double>(p);
        line << QPointF(x, shown.y_of(*lowest, area)) << QPointF(x, shown.y_of(*highest, area));
    }
    return line;
}

} // namespace syntonon
