// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/painted_axes.h"

#include "app/widgets/shown_number.h"
#include "app/widgets/words.h"

#include <algorithm>
#include <cmath>
#include <iterator>

namespace syntonon {

double PaintedAxes::part_of_hz(double hz) const {
    return std::log(hz / low_hz_) / std::log(high_hz_ / low_hz_);
}

void PaintedAxes::number(const QRectF& room, Qt::Alignment where, const QString& text) {
    painter_.setPen(theme_.soft);
    painter_.drawText(room, static_cast<int>(where) | Qt::TextDontClip, text);
}

void PaintedAxes::under_axis(double x, const QString& text) {
    constexpr double half = 30;
    const double right = area_.right() + 8;
    const bool is_last = x + half > right;
    number({x - half, area_.bottom() + 3, is_last ? right - x + half : 2 * half, 14},
           is_last ? Qt::AlignRight | Qt::AlignVCenter : Qt::AlignCenter, text);
}

void PaintedAxes::line_at(double x) {
    painter_.setPen(QPen(theme_.grid, 1));
    painter_.drawLine(QPointF(x, area_.top()), QPointF(x, area_.bottom()));
}

void PaintedAxes::ground() {
    painter_.setRenderHint(QPainter::Antialiasing);
    painter_.fillRect(area_, theme_.panel);
}

void PaintedAxes::frame() {
    painter_.setBrush(Qt::NoBrush);
    painter_.setPen(QPen(theme_.hairline, 1));
    painter_.drawRect(area_);
}

void PaintedAxes::frequency_axis() {
    for (double decade = 1; decade < 1e6; decade *= 10) {
        for (const int digit : {1, 2, 5}) {
            const double hz = digit * decade, at = part_of_hz(hz);
            if (at < -1e-9 || at > 1 + 1e-9) {
                continue;
            }
            const double x = area_.left() + at * area_.width();
            line_at(x);
            const QString text = hz >= 1000 ? tr("%1 k").arg(hz / 1000) : QString::number(hz);
            constexpr double at_the_end = 0.97;
            under_axis(x, at > at_the_end ? tr("Hz") : text);
        }
    }
}

void PaintedAxes::value_axis(const QString& unit) {
    for (double at = std::ceil(low_ / step_) * step_; at <= high_ + 1e-9; at += step_) {
        const double y = y_of(at);
        painter_.setPen(QPen(theme_.grid, 1));
        painter_.drawLine(QPointF(area_.left(), y), QPointF(area_.right(), y));
        const double shown = std::abs(at) < step_ / 1e3 ? 0 : at;
        number({area_.left() - 46, y - 7, 42, 14}, Qt::AlignRight | Qt::AlignVCenter,
               shown_number(shown, 3) + unit);
    }
}

void PaintedAxes::curve(const Values& parts, const Values& values, const QPen& pen) {
    painter_.setPen(pen);
    QPolygonF line;
    const auto draw = [&] {
        painter_.drawPolyline(line);
        line.clear();
    };
    for (std::size_t i = 0; i < values.size(); ++i) {
        if (!std::isfinite(values[i])) {
            draw();
            continue;
        }
        line << QPointF(area_.left() + parts[i] * area_.width(), y_of(values[i]));
    }
    draw();
}

PaintedAxes::Values PaintedAxes::parts_of_hz(const Values& hz) const {
    Values parts;
    std::ranges::transform(hz, std::back_inserter(parts),
                           [this](double at) { return part_of_hz(at); });
    return parts;
}

void PaintedAxes::legend(const QString& title, std::vector<Entry> entries) {
    const double y = area_.top() - 10;
    painter_.setPen(theme_.text);
    painter_.drawText(QRectF(area_.left(), y - 8, area_.width(), 16),
                      Qt::AlignLeft | Qt::AlignVCenter, title);
    double x = area_.right();
    std::ranges::reverse(entries); // the last stands at the right
    for (const Entry& entry : entries) {
        const double width = painter_.fontMetrics().horizontalAdvance(entry.text);
        x -= width;
        number({x, y - 8, width, 16}, Qt::AlignLeft | Qt::AlignVCenter, entry.text);
        painter_.setPen(QPen(entry.colour, 2, entry.line));
        painter_.drawLine(QPointF(x - 24, y), QPointF(x - 5, y));
        x -= 36;
    }
}

} // namespace syntonon
