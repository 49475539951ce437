// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/sample_plot.h"

#include "app/widgets/theme.h"
#include "app/widgets/thin_line.h"
#include "app/widgets/words.h"
#include "core/base/units.h"

#include <QTextOption>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double towers = 6;       // times all others: then the axis is broken
constexpr double top_share = 0.22; // of the height, for what is above the break
constexpr double room = 0.06;

QString number(double value) {
    return QString::number(value, 'g', 3).replace('-', QStringLiteral("−"));
}

} // namespace

SamplePlot::SamplePlot(std::span<const double> values, SampleStyle style)
    : values_(values), style_(style) {
    for (std::size_t i = 1; i < values_.size(); ++i) {
        main_ = std::abs(values_[i]) > std::abs(values_[main_]) ? i : main_;
    }
    choose_range();
}

double SamplePlot::shown(std::size_t i) const {
    return style_.decibels
               ? std::max(style_.floor_db, db_from_ratio(std::max(std::abs(values_[i]), 1e-300)))
               : values_[i];
}

void SamplePlot::choose_range() {
    if (style_.range) {
        std::tie(low_, high_) = *style_.range;
        return;
    }
    if (values_.empty()) {
        return;
    }
    if (style_.decibels) {
        low_ = style_.floor_db;
        high_ = std::max(0.0, std::ceil(shown(main_) / 6) * 6);
        return;
    }
    const auto [lowest, highest] = std::ranges::minmax(values_);
    low_ = std::min(0.0, lowest);
    high_ = std::max(0.0, highest);
    if (style_.marks_main) {
        double rest = 0;
        for (std::size_t i = 0; i < values_.size(); ++i) {
            rest = i != main_ ? std::max(rest, std::abs(values_[i])) : rest;
        }
        // A lone sample on a straight wire has nothing beside it to be shown larger.
        broken_ =
            rest > 1e-12 * std::abs(values_[main_]) && std::abs(values_[main_]) > towers * rest;
        if (broken_) {
            low_ = -1.1 * rest;
            high_ = 1.1 * rest;
        }
    }
    if (!(high_ > low_)) {
        high_ = low_ + 1; // silence
    }
}

QString SamplePlot::note() const {
    if (!style_.marks_main || values_.empty()) {
        return {};
    }
    const QString main = tr("main sample %1 at n = %2").arg(number(values_[main_])).arg(main_);
    return broken_ ? tr("%1, axis broken at ±%2").arg(main, number(high_)) : main;
}

QRectF SamplePlot::unbroken(const QRectF& area) const {
    if (!broken_) {
        return area;
    }
    const double cut = area.height() * top_share;
    return values_[main_] > 0 ? area.adjusted(0, cut, 0, 0) : area.adjusted(0, 0, 0, -cut);
}

double SamplePlot::y_of(double value, const QRectF& area) const {
    const QRectF part = unbroken(area);
    const double margin = (high_ - low_) * room, bottom = low_ - margin, top = high_ + margin;
    return part.bottom()
           - (std::clamp(value, bottom, top) - bottom) / (top - bottom) * part.height();
}

double SamplePlot::x_of(std::size_t i, const QRectF& area) const {
    const auto last = static_cast<double>(std::max<std::size_t>(values_.size(), 2) - 1);
    constexpr double inset = 5; // the first sample stands clear of the axis
    return area.left() + inset + (area.width() - 2 * inset) * static_cast<double>(i) / last;
}

void SamplePlot::paint(QPainter& painter, const QRectF& area, const QColor& curve) const {
    painter.setFont(text_font(11));
    paint_axis(painter, area);
    if (values_.empty()) {
        return;
    }
    paint_values(painter, area, curve);
    if (style_.marks_main) {
        paint_main(painter, area, curve);
    }
}

void SamplePlot::paint_axis(QPainter& painter, const QRectF& area) const {
    const Theme& t = theme();
    painter.setPen(t.grid);
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(area);
    std::vector<double> marks{low_, high_};
    if (!style_.decibels && low_ < 0 && high_ > 0) {
        marks.push_back(0);
    }
    const double least_apart = 13;
    std::vector<double> written;
    for (const double mark : {high_, 0.0, low_}) {
        const double y = y_of(mark, area);
        if (std::ranges::find(marks, mark) == marks.end()
            || std::ranges::any_of(
                written, [&](double other) { return std::abs(other - y) < least_apart; })) {
            continue;
        }
        written.push_back(y);
        painter.setPen(t.grid);
        painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y));
        painter.setPen(t.soft);
        painter.drawText(QRectF(area.left() - 54, y - 8, 48, 16), Qt::AlignRight | Qt::AlignVCenter,
                         number(mark));
    }
    if (!broken_) {
        return;
    }
    // Two strokes across the axis: what is beyond them has another scale.
    const double y = values_[main_] > 0 ? unbroken(area).top() : unbroken(area).bottom();
    painter.setPen(t.soft);
    for (const double shift : {-2.0, 2.0}) {
        painter.drawLine(QPointF(area.left() - 6, y + shift + 3),
                         QPointF(area.left() + 6, y + shift - 3));
    }
    painter.setPen(QPen(t.hairline, 1, Qt::DashLine));
    painter.drawLine(QPointF(area.left() + 8, y), QPointF(area.right(), y));
}

void SamplePlot::paint_values(QPainter& painter, const QRectF& area, const QColor& curve) const {
    const auto pixels = static_cast<std::size_t>(std::max(2.0, area.width()));
    const std::size_t count = values_.size();
    painter.setPen(QPen(curve, 1));
    if (count * 6 <= pixels) { // stems: one can count them
        const double zero = y_of(style_.decibels ? low_ : 0, area);
        painter.setBrush(curve);
        for (std::size_t i = 0; i < count; ++i) {
            if (broken_ && i == main_) {
                continue;
            }
            const QPointF top(x_of(i, area), y_of(shown(i), area));
            painter.drawLine(QPointF(top.x(), zero), top);
            painter.drawEllipse(top, 1.5, 1.5);
        }
        return;
    }
    painter.setRenderHint(QPainter::Antialiasing);
    QPolygonF line;
    if (count <= 2 * pixels) {
        for (std::size_t i = 0; i < count; ++i) {
            line << QPointF(x_of(i, area), y_of(shown(i), area));
        }
    } else { // of more samples than pixels, each pixel's lowest and highest
        for (std::size_t p = 0; p < pixels; ++p) {
            double low = shown(p * count / pixels), high = low;
            for (std::size_t i = p * count / pixels; i < (p + 1) * count / pixels; ++i) {
                low = std::min(low, shown(i));
                high = std::max(high, shown(i));
            }
            const double x = x_of(p * count / pixels, area);
            line << QPointF(x, y_of(low, area)) << QPointF(x, y_of(high, area));
        }
    }
    draw_thin_line(painter, line);
    painter.setRenderHint(QPainter::Antialiasing, false);
}

void SamplePlot::paint_main(QPainter& painter, const QRectF& area, const QColor& curve) const {
    const double x = x_of(main_, area);
    const bool upward = values_[main_] >= 0;
    const double y = !broken_ ? y_of(shown(main_), area)
                     : upward ? area.top() + 8
                              : area.bottom() - 8;
    painter.setPen(QPen(curve, 1));
    if (broken_) {
        painter.drawLine(QPointF(x, y_of(0, area)), QPointF(x, y));
    }
    painter.setBrush(curve);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.drawEllipse(QPointF(x, y), 2.5, 2.5);
    painter.setRenderHint(QPainter::Antialiasing, false);
    const QString text =
        style_.decibels ? number(shown(main_)) + tr(" dB") : number(values_[main_]);
    const double width = painter.fontMetrics().horizontalAdvance(text) + 4;
    const bool left = x + 8 + width > area.right();
    painter.setPen(theme().text);
    const Qt::Alignment side = left ? Qt::AlignRight : Qt::AlignLeft;
    painter.drawText(QRectF(left ? x - 8 - width : x + 8, y - 8, width, 16), text,
                     QTextOption(side | Qt::AlignVCenter));
}

} // namespace syntonon
