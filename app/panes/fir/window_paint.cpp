// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/fir/window_pane.h"
#include "app/plot/sample_plot.h"
#include "app/widgets/number_cells.h"
#include "app/widgets/theme.h"
#include "app/widgets/thin_line.h"
#include "core/base/number_text.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double grip_px = 4;

} // namespace

void WindowPane::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    QPainter painter(this);
    painter.fillRect(rect(), t.panel);
    painter.setFont(text_font(11));
    if (window_.values.empty()) {
        painter.setPen(t.soft);
        painter.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap, problem_);
        return;
    }
    paint_time(painter);
    paint_spectrum(painter);
    painter.setPen(t.text);
    const int taken = points() != nullptr ? 108 : 0; // by the box
    const QRectF line(56, height() - 19, width() - 72 - taken, 16);
    painter.drawText(
        line, Qt::AlignLeft | Qt::AlignVCenter,
        painter.fontMetrics().elidedText(facts(), Qt::ElideRight, static_cast<int>(line.width())));
}

void WindowPane::paint_time(QPainter& painter) const {
    const Theme& t = theme();
    const QRectF area = time_area();
    SampleStyle style;
    style.range = std::pair(0.0, 1.0);
    SamplePlot(window_.values, style).paint(painter, area, t.ink);
    painter.setPen(t.soft);
    painter.drawText(area.adjusted(5, 2, -5, 0), Qt::AlignLeft | Qt::AlignTop,
                     QString::fromStdString(window_.title));
    const QRectF below(area.left(), area.bottom() + 3, area.width(), 16);
    painter.drawText(below, Qt::AlignLeft | Qt::AlignVCenter, "0");
    painter.drawText(below, Qt::AlignRight | Qt::AlignVCenter,
                     tr("n = %1").arg(window_.values.size() - 1));
    const auto* all = points();
    painter.setRenderHint(QPainter::Antialiasing);
    for (std::size_t i = 0; all != nullptr && i < all->size(); ++i) {
        const QPointF at = position_of((*all)[i]);
        painter.setPen(QPen(t.copper, 1.5));
        painter.setBrush(chosen_ == i ? t.copper : t.panel);
        painter.drawRect(QRectF(at.x() - grip_px, at.y() - grip_px, 2 * grip_px, 2 * grip_px));
    }
    painter.setRenderHint(QPainter::Antialiasing, false);
}

// The first bins, where windows differ; the highest side lobe as a dashed line.
void WindowPane::paint_spectrum(QPainter& painter) const {
    const Theme& t = theme();
    const QRectF area = spectrum_area();
    painter.setPen(t.grid);
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(area);
    if (!spectrum_ || !facts_) {
        return;
    }
    paint_levels(painter);
    painter.save();
    painter.setClipRect(area);
    painter.setRenderHint(QPainter::Antialiasing);
    QPolygonF filter;
    for (const auto& [bins, db] : beside_) {
        filter << QPointF(area.left() + area.width() * bins / bins_, y_of_level(db));
    }
    painter.setPen(QPen(t.copper, 1));
    draw_thin_line(painter, filter);
    QPolygonF curve;
    const auto& level = spectrum_->level_db;
    const auto shown = static_cast<std::size_t>(bins_ / spectrum_->bins_a_point);
    for (std::size_t k = 0; k <= std::min(shown, level.size() - 1); ++k) {
        const double x = area.left() + area.width() * double(k) * spectrum_->bins_a_point / bins_;
        curve << QPointF(x, y_of_level(level[k]));
    }
    painter.setPen(QPen(t.ink, 1));
    draw_thin_line(painter, curve);
    const double lobe = y_of_level(facts_->side_lobe_db);
    painter.setPen(QPen(t.not_met, 1, Qt::DashLine));
    painter.drawLine(QPointF(area.left(), lobe), QPointF(area.right(), lobe));
    if (const auto grip = lobe_grip()) {
        painter.setPen(QPen(t.copper, 1.5));
        painter.setBrush(t.panel);
        painter.drawRect(
            QRectF(grip->x() - grip_px, grip->y() - grip_px, 2 * grip_px, 2 * grip_px));
    }
    painter.restore();
}

// Lines, numbers and what is what.
void WindowPane::paint_levels(QPainter& painter) const {
    const Theme& t = theme();
    const QRectF area = spectrum_area();
    constexpr double coarse_from = -100;
    for (double db = 0; db >= floor_db_; db -= floor_db_ < coarse_from ? 40 : 20) {
        painter.setPen(t.grid);
        painter.drawLine(QPointF(area.left(), y_of_level(db)),
                         QPointF(area.right(), y_of_level(db)));
        painter.setPen(t.soft);
        painter.drawText(QRectF(area.left() - 46, y_of_level(db) - 8, 40, 16),
                         Qt::AlignRight | Qt::AlignVCenter, shown_number(db, 4));
    }
    const QRectF words = area.adjusted(5, 1, -5, 0);
    const QString filter = beside_.empty() ? QString() : tr("filter");
    painter.setPen(t.copper);
    painter.drawText(words, Qt::AlignRight | Qt::AlignTop, filter);
    painter.setPen(t.ink);
    const int taken = painter.fontMetrics().horizontalAdvance(filter + QStringLiteral("  "));
    painter.drawText(words.adjusted(0, 0, -taken, 0), Qt::AlignRight | Qt::AlignTop, tr("window"));
    painter.setPen(t.soft);
    const QRectF below(area.left(), area.bottom() + 3, area.width(), 16);
    painter.drawText(below, Qt::AlignLeft | Qt::AlignVCenter, "0");
    const double hz = bins_ * session_.study().sample_rate_hz / double(window_.values.size());
    painter.drawText(
        below, Qt::AlignRight | Qt::AlignVCenter,
        tr("%1 bins = %2")
            .arg(shown_number(bins_, 3), QString::fromStdString(frequency_text(hz, 3))));
}

} // namespace syntonon
