// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/sample_plot.h"

#include "app/widgets/line_text.h"
#include "app/widgets/number_cells.h"
#include "app/widgets/theme.h"
#include "app/widgets/thin_line.h"
#include "app/widgets/words.h"
#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double towers = 6;       // times all others: then the axis is broken
constexpr double top_share = 0.22; // of the height, for what is above the break
constexpr double room_beside = 0.06;
constexpr double inset = 5; // the first sample stands clear of the axis

QString number(double value) {
    return shown_number(value, 3);
}

} // namespace

SamplePlot::SamplePlot(std::span<const double> values, SampleStyle style,
                       std::shared_ptr<const SampleExtremes> extremes)
    : values_(values), style_(style),
      extremes_(extremes != nullptr ? std::move(extremes)
                                    : std::make_shared<const SampleExtremes>(values)),
      main_(extremes_->loudest()) {
    choose_range();
}

double SamplePlot::level(double size) const {
    return std::max(style_.floor_db, db_from_ratio(std::max(size, 1e-300)));
}

double SamplePlot::shown(std::size_t i) const {
    return style_.decibels ? level(std::abs(values_[i])) : values_[i];
}

std::pair<double, double> SamplePlot::part() const {
    const auto last = static_cast<double>(std::max<std::size_t>(values_.size(), 2) - 1);
    return style_.part.value_or(std::pair(0.0, last));
}

std::pair<std::size_t, std::size_t> SamplePlot::drawn() const {
    const auto [first, last] = part();
    const auto end = static_cast<double>(values_.size());
    return {static_cast<std::size_t>(std::clamp(std::floor(first), 0.0, end)),
            static_cast<std::size_t>(std::clamp(std::ceil(last) + 1, 0.0, end))};
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
    const auto all = extremes_->of(0, values_.size());
    low_ = std::min(0.0, all.low);
    high_ = std::max(0.0, all.high);
    if (style_.marks_main) {
        const double rest = extremes_->loudest_of_the_rest();
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
    return broken_ ? tr("%1, broken at ±%2").arg(main, number(high_)) : main;
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
    const double margin = (high_ - low_) * room_beside, bottom = low_ - margin,
                 top = high_ + margin;
    return part.bottom()
           - (std::clamp(value, bottom, top) - bottom) / (top - bottom) * part.height();
}

double SamplePlot::x_of(double sample, const QRectF& area) const {
    const auto [first, last] = part();
    return area.left() + inset + (area.width() - 2 * inset) * (sample - first) / (last - first);
}

double SamplePlot::sample_at(double x, const QRectF& area) const {
    const auto [first, last] = part();
    return first + (x - area.left() - inset) / (area.width() - 2 * inset) * (last - first);
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
        draw_line(painter, QRectF(area.left() - 54, y - 8, 48, 16),
                  Qt::AlignRight | Qt::AlignVCenter, number(mark));
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
    const auto [from, to] = drawn();
    const std::size_t count = to - std::min(from, to);
    if (count == 0) {
        return;
    }
    painter.save();
    painter.setClipRect(area.adjusted(0, -1, 1, 1));
    if (count * 6 <= pixels) { // one can count them
        paint_stems(painter, area, curve);
    } else {
        painter.setPen(QPen(curve, 1));
        painter.setRenderHint(QPainter::Antialiasing);
        QPolygonF line;
        for (std::size_t i = from; count <= 2 * pixels && i < to; ++i) {
            line << QPointF(x_of(double(i), area), y_of(shown(i), area));
        }
        draw_thin_line(painter, count <= 2 * pixels ? line : line_of_extremes(area));
    }
    painter.restore();
}

void SamplePlot::paint_stems(QPainter& painter, const QRectF& area, const QColor& curve) const {
    const auto [from, to] = drawn();
    const double zero = y_of(style_.decibels ? low_ : 0, area);
    painter.setPen(QPen(curve, 1));
    painter.setBrush(curve);
    for (std::size_t i = from; i < to; ++i) {
        if (broken_ && i == main_) {
            continue;
        }
        const QPointF top(x_of(double(i), area), y_of(shown(i), area));
        painter.drawLine(QPointF(top.x(), zero), top);
        painter.drawEllipse(top, 1.5, 1.5);
    }
}

// Of more samples than pixels, each pixel's lowest and highest.
QPolygonF SamplePlot::line_of_extremes(const QRectF& area) const {
    const auto [from, to] = drawn();
    const std::size_t count = to - from;
    const auto pixels = static_cast<std::size_t>(std::max(2.0, area.width()));
    QPolygonF line;
    for (std::size_t p = 0; p < pixels; ++p) {
        const std::size_t first = from + p * count / pixels;
        const auto found = extremes_->of(first, from + (p + 1) * count / pixels);
        const double low = style_.decibels ? level(found.quiet) : found.low;
        const double high = style_.decibels ? level(found.loud) : found.high;
        const double x = x_of(double(first), area);
        line << QPointF(x, y_of(low, area)) << QPointF(x, y_of(high, area));
    }
    return line;
}

void SamplePlot::paint_magnified(QPainter& painter, const QRectF& area, std::size_t middle,
                                 const QColor& curve) const {
    constexpr double around = 16;
    const Theme& t = theme();
    SampleStyle style = style_;
    style.marks_main = false;
    style.part = std::pair(double(middle) - around, double(middle) + around);
    const auto [from, to] = SamplePlot(values_, style, extremes_).drawn();
    const auto near = extremes_->of(from, std::max(to, from + 1));
    if (!style.decibels) { // as large as what is there allows
        const double room_for = std::max(near.loud, 1e-300);
        style.range = std::pair(std::min(0.0, near.low) - 0.05 * room_for,
                                std::max(0.0, near.high) + 0.05 * room_for);
    }
    const SamplePlot part(values_, style, extremes_);
    painter.setPen(t.hairline);
    painter.setBrush(t.panel);
    painter.drawRect(area);
    const QRectF inside = area.adjusted(4, 6, -4, -20);
    painter.save();
    painter.setClipRect(area);
    part.paint_stems(painter, inside, curve);
    const double x = part.x_of(double(middle), inside);
    painter.setPen(QPen(t.copper, 1, Qt::DotLine));
    painter.drawLine(QPointF(x, inside.top()), QPointF(x, inside.bottom()));
    painter.restore();
    painter.setPen(t.text);
    painter.setFont(text_font(11));
    const double size = std::abs(values_[middle]);
    painter.drawText(area.adjusted(4, 0, -4, -3), Qt::AlignHCenter | Qt::AlignBottom,
                     tr("n = %1: %2, %3 dB")
                         .arg(middle)
                         .arg(number(values_[middle]), size > 0
                                                           ? fixed_number(db_from_ratio(size), 1)
                                                           : QStringLiteral("−∞")));
}

void SamplePlot::paint_main(QPainter& painter, const QRectF& area, const QColor& curve) const {
    const auto [first, last] = part();
    if (double(main_) < first || double(main_) > last) {
        return;
    }
    const double x = x_of(double(main_), area);
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
    const double width = line_width(painter.font(), text) + 4;
    if (const auto box = beside_main({x, y}, width, area)) {
        painter.setPen(theme().text);
        draw_line(painter, *box,
                  (box->left() < x ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter, text);
    }
}

std::optional<QRectF> SamplePlot::beside_main(const QPointF& main, double width,
                                              const QRectF& area) const {
    constexpr double away = 8, height = 16;
    for (const double left : {main.x() + away, main.x() - away - width}) {
        const QRectF box(left, main.y() - height / 2, width, height);
        if (left >= area.left() && box.right() <= area.right() && is_free(box, area)) {
            return box;
        }
    }
    return std::nullopt;
}

bool SamplePlot::is_free(const QRectF& box, const QRectF& area) const {
    constexpr double dot = 2, above_letters = 3;
    const auto index = [&](double sample) {
        return static_cast<std::size_t>(std::clamp(sample, 0.0, double(values_.size())));
    };
    const std::size_t from = index(std::ceil(sample_at(box.left() - dot, area)));
    const std::size_t to = index(std::floor(sample_at(box.right() + dot, area)) + 1);
    if (from >= to) {
        return true;
    }
    const auto found = extremes_->of(from, to);
    const double high = style_.decibels ? level(found.loud) : std::max(found.high, 0.0);
    const double low = style_.decibels ? low_ : std::min(found.low, 0.0);
    return y_of(high, area) > box.bottom() - above_letters
           || y_of(low, area) < box.top() + above_letters;
}

} // namespace syntonon
