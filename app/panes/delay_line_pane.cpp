// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/delay_line_pane.h"

#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QSpinBox>
#include <QToolButton>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr int head_height = 34, line_height = 46;
constexpr int most_samples = 4096;
constexpr std::size_t most_drawn_taps = 4096;

QString value_text(double value) {
    return shown_number(value, 4);
}

QToolButton* step_button(const QString& text, const QString& tip, QSpinBox* sample, int by) {
    auto* button = new QToolButton;
    button->setText(text);
    button->setToolTip(tip);
    button->setAccessibleName(tip);
    button->setAutoRepeat(true);
    QObject::connect(button, &QToolButton::clicked, sample,
                     [sample, by] { sample->setValue(sample->value() + by); });
    return button;
}

} // namespace

DelayLinePane::DelayLinePane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), sample_(new QSpinBox), input_(new QComboBox) {
    sample_->setRange(0, most_samples);
    sample_->setPrefix(tr("n = "));
    sample_->setButtonSymbols(QAbstractSpinBox::NoButtons);
    sample_->setAccessibleName(tr("The sample that went in last"));
    sample_->setFixedWidth(84);
    input_->addItems({tr("impulse in"), tr("step in")});
    input_->setAccessibleName(tr("What goes in"));
    auto* row = new QHBoxLayout;
    row->addWidget(step_button(QStringLiteral("−"), tr("One sample back"), sample_, -1));
    row->addWidget(sample_);
    row->addWidget(step_button(QStringLiteral("+"), tr("One sample on"), sample_, 1));
    row->addWidget(input_);
    row->addStretch(1);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 4, 16, 4);
    column->addLayout(row);
    column->addStretch(1);
    setMinimumSize(160, 90);
    setAccessibleName(tr("Delay lines, sample by sample"));
    connect(sample_, &QSpinBox::valueChanged, this, &DelayLinePane::run);
    connect(input_, &QComboBox::currentIndexChanged, this, &DelayLinePane::run);
    connect(&session_, &Session::analysis_changed, this, &DelayLinePane::run);
}

void DelayLinePane::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    run();
}

double DelayLinePane::input_at(int n) const {
    return n == 0 || input_->currentIndex() == 1 ? 1 : 0;
}

void DelayLinePane::run() {
    const auto analysis = session_.analysis();
    if (!isVisible() || analysis == nullptr) {
        return;
    }
    constexpr double endless = 1e12;
    const auto stepper = stepper_of(analysis->chain);
    largest_ = 0;
    for (int n = 0; n <= sample_->value(); ++n) {
        output_ = stepper->take(input_at(n));
        largest_ = std::max(largest_, std::abs(output_));
    }
    lines_.clear();
    stepper->add_lines(most_drawn_taps, lines_);
    grows_ = !(std::abs(output_) < endless);
    update();
}

// Each tap a bar, the newest at the left; their values where there is room.
void DelayLinePane::paint_line(QPainter& painter, const DelayLine& line, const QRect& box) const {
    const Theme& t = theme();
    painter.setFont(text_font(11));
    painter.setPen(t.soft);
    painter.drawText(QRect(box.left(), box.top(), box.width(), 14),
                     Qt::AlignLeft | Qt::AlignVCenter, QString::fromStdString(line.name));
    const QRect strip(box.left(), box.top() + 15, box.width(), box.height() - 19);
    painter.setPen(t.grid);
    painter.drawRect(strip);
    const auto places = static_cast<double>(std::min(line.length, most_drawn_taps));
    const double width = strip.width() / std::max(places, 1.0);
    double largest = 1e-300;
    for (const double tap : line.taps) {
        largest = std::max(largest, std::abs(tap));
    }
    const double middle = strip.center().y() + 0.5;
    painter.drawLine(QPointF(strip.left(), middle), QPointF(strip.right(), middle));
    const bool has_room = width >= 40;
    painter.setFont(text_font(10));
    for (std::size_t k = 0; k < line.taps.size(); ++k) {
        const double tap = line.taps[k];
        const double height = tap / largest * (strip.height() / 2.0 - 2);
        const double left = strip.left() + width * static_cast<double>(k);
        if (tap != 0) {
            painter.fillRect(QRectF(left + 1, std::min(middle, middle - height),
                                    std::max(1.0, std::min(width - 2, 6.0)), std::abs(height)),
                             t.ink);
        }
        if (has_room) {
            painter.setPen(t.text);
            painter.drawText(QRectF(left + 9, strip.top(), width - 10, strip.height()),
                             Qt::AlignLeft | Qt::AlignVCenter, value_text(tap));
        }
    }
    painter.setPen(t.soft);
    painter.drawText(QRect(box.left(), box.top(), box.width(), 14),
                     Qt::AlignRight | Qt::AlignVCenter,
                     has_room ? tr("newest at the left")
                              : tr("newest at the left, largest %1").arg(value_text(largest)));
}

void DelayLinePane::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    QPainter painter(this);
    painter.fillRect(rect(), t.panel);
    painter.setFont(text_font(11));
    const QRect head(input_->geometry().right() + 12, 6, width() - input_->geometry().right() - 28,
                     26);
    if (grows_) {
        painter.setPen(t.not_met);
        painter.drawText(head, Qt::AlignRight | Qt::AlignVCenter, tr("◇ grows without end"));
        return;
    }
    painter.setPen(t.text);
    painter.drawText(head, Qt::AlignRight | Qt::AlignVCenter,
                     tr("x[%1] = %2,  y[%1] = %3")
                         .arg(sample_->value())
                         .arg(value_text(input_at(sample_->value())), value_text(output_)));
    QRect box(16, head_height, width() - 32, line_height);
    if (lines_.empty()) {
        painter.setPen(t.soft);
        painter.drawText(box, Qt::AlignLeft | Qt::AlignVCenter,
                         tr("The chain has no delay lines: only sections and gains."));
        return;
    }
    const int room = std::max(1, (height() - head_height) / line_height);
    const auto shown = std::min<std::size_t>(lines_.size(), static_cast<std::size_t>(room));
    for (std::size_t i = 0; i < shown; ++i) {
        paint_line(painter, lines_[i], box);
        box.translate(0, line_height);
    }
    if (shown < lines_.size()) {
        painter.setPen(t.soft);
        painter.setFont(text_font(10));
        painter.drawText(QRect(16, height() - 14, width() - 32, 13),
                         Qt::AlignRight | Qt::AlignVCenter,
                         tr("and %1 more: draw the pane higher").arg(lines_.size() - shown));
    }
}

} // namespace syntonon
