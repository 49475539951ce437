// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/deliver/budget_pane.h"

#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"

#include <QLocale>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr int bar_row = 28, bar_height = 5, side = 12;

QString whole(double value) {
    return QLocale::c().toString(std::round(value), 'f', 0);
}

// Latency stands beside them, without a limit of its own.
std::vector<BudgetLine> shown_lines(const Budget& budget) {
    std::vector<BudgetLine> lines;
    for (const BudgetLine& line : budget.lines) {
        if (line.used > 0 || line.available.value_or(0) > 0) {
            lines.push_back(line);
        }
    }
    return lines;
}

} // namespace

BudgetPane::BudgetPane(QWidget* parent) : QWidget(parent) {
    setAccessibleName(tr("Budget"));
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
}

void BudgetPane::show_budget(const Processor& processor, int block_frames, double sample_rate_hz,
                             Expected<Budget> budget) {
    processor_ = processor;
    block_frames_ = block_frames;
    sample_rate_hz_ = sample_rate_hz;
    budget_ = std::move(budget);
    QStringList lines;
    for (std::size_t i = 0; *budget_ && i < shown_lines(**budget_).size(); ++i) {
        lines << line(i);
    }
    setAccessibleDescription(lines.join(QStringLiteral("; ")));
    const bool has_curves = processor_->block_convolution.has_value();
    setFixedHeight(24 + static_cast<int>(lines.size()) * bar_row + 22 + (has_curves ? 90 : 4));
    setVisible(true);
    update();
}

void BudgetPane::show_nothing() {
    processor_.reset();
    budget_.reset();
    setVisible(false);
}

QString BudgetPane::line(std::size_t i) const {
    const std::vector<BudgetLine> lines = shown_lines(**budget_);
    const BudgetLine& shown = lines.at(i);
    return shown.available ? tr("%1 of %2").arg(whole(shown.used), whole(*shown.available))
                           : whole(shown.used);
}

QString BudgetPane::break_even() const {
    if (!processor_ || !processor_->block_convolution) {
        return tr("this processor convolves directly only");
    }
    const auto taps = break_even_taps(*processor_, block_frames_);
    return taps ? tr("break-even %1 taps").arg(*taps) : tr("direct is cheaper at any length");
}

void BudgetPane::paintEvent(QPaintEvent*) {
    if (!processor_ || !budget_) {
        return;
    }
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(text_font(12, QFont::DemiBold));
    painter.setPen(theme().text);
    const QFontMetrics metrics(painter.font());
    painter.drawText(QRect(side, 0, width() - 2 * side, 20), Qt::AlignLeft | Qt::AlignVCenter,
                     metrics.elidedText(tr("Budget of %1").arg(shown_words(processor_->name)),
                                        Qt::ElideRight, width() - 2 * side));
    int y = 24;
    if (!*budget_) {
        painter.setFont(text_font(11));
        painter.setPen(theme().not_met);
        painter.drawText(QRect(side, y, width() - 2 * side, height() - y),
                         Qt::AlignLeft | Qt::TextWordWrap,
                         QStringLiteral("◇ ") + shown_words(to_text(budget_->error())));
        return;
    }
    paint_bars(painter, y);
    paint_break_even(painter, y + 4);
}

void BudgetPane::paint_bars(QPainter& painter, int& y) const {
    const Theme& t = theme();
    const std::vector<BudgetLine> lines = shown_lines(**budget_);
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const BudgetLine& shown = lines[i];
        const bool is_beyond = shown.available && shown.used > *shown.available;
        const QRect row(side, y, width() - 2 * side, 16);
        painter.setFont(text_font(11));
        painter.setPen(t.soft);
        painter.drawText(row, Qt::AlignLeft | Qt::AlignVCenter, text_of(shown.what));
        painter.setPen(is_beyond ? t.not_met : t.text);
        painter.drawText(row, Qt::AlignRight | Qt::AlignVCenter,
                         (is_beyond ? QStringLiteral("◇ ") : QString()) + line(i));
        const QRectF bar(side, y + 17, width() - 2 * side, bar_height);
        painter.fillRect(bar, t.grid);
        if (shown.available) {
            QRectF used = bar;
            used.setWidth(bar.width() * std::clamp(shown.share(), 0.0, 1.0));
            painter.fillRect(used, is_beyond ? t.not_met : t.ink);
        }
        y += bar_row;
    }
    painter.setPen(t.soft);
    const double latency = (*budget_)->latency_samples;
    painter.drawText(QRect(side, y, width() - 2 * side, 16), Qt::AlignLeft | Qt::AlignVCenter,
                     tr("latency"));
    painter.setPen(t.text);
    painter.drawText(QRect(side, y, width() - 2 * side, 16), Qt::AlignRight | Qt::AlignVCenter,
                     tr("%1 samples · %2 ms")
                         .arg(whole(latency), fixed_number(1e3 * latency / sample_rate_hz_, 2)));
    y += 22;
}

// Cycles over the number of taps, both axes straight, to twice the break-even.
void BudgetPane::paint_break_even(QPainter& painter, int y) const {
    if (!processor_->block_convolution) {
        return;
    }
    const Theme& t = theme();
    painter.setFont(text_font(11));
    painter.setPen(t.soft);
    painter.drawText(QRect(side, y, width() - 2 * side, 16), Qt::AlignLeft | Qt::AlignVCenter,
                     tr("direct or block: %1").arg(break_even()));
    const auto even = break_even_taps(*processor_, block_frames_);
    const QRectF area(side, y + 20, width() - 2 * side, height() - y - 24);
    if (!even || area.height() < 24) {
        return;
    }
    const auto most = static_cast<double>(*even * 2);
    const double top = direct_cost(*even * 2, *processor_).cycles;
    const auto at = [&](double taps, double cycles) {
        return QPointF(area.left() + taps / most * area.width(),
                       area.bottom() - std::min(cycles / top, 1.0) * area.height());
    };
    QPolygonF direct, block;
    constexpr int points = 120;
    for (int i = 1; i <= points; ++i) {
        const auto taps = static_cast<std::size_t>(std::max(1.0, most * i / points));
        direct << at(static_cast<double>(taps), direct_cost(taps, *processor_).cycles);
        block << at(static_cast<double>(taps),
                    block_cost(taps, *processor_, block_frames_)->cycles);
    }
    painter.setPen(QPen(t.hairline, 1));
    painter.drawLine(area.bottomLeft(), area.bottomRight());
    painter.setPen(QPen(t.copper, 1.3));
    painter.drawPolyline(direct);
    painter.setPen(QPen(t.ink, 1.3));
    painter.drawPolyline(block);
    painter.setPen(Qt::NoPen);
    painter.setBrush(t.text);
    painter.drawEllipse(
        at(static_cast<double>(*even), block_cost(*even, *processor_, block_frames_)->cycles), 3,
        3);
    painter.setPen(t.copper);
    painter.drawText(QRectF(area.right() - 110, area.top() - 2, 60, 14), Qt::AlignRight,
                     tr("direct"));
    painter.setPen(t.ink);
    painter.drawText(QRectF(area.right() - 44, area.center().y() - 2, 44, 14), Qt::AlignRight,
                     tr("block"));
}

} // namespace syntonon
