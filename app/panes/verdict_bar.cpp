// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/verdict_bar.h"

#include "app/widgets/theme.h"
#include "core/base/number_text.h"

#include <QHBoxLayout>
#include <QPainter>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr int summary_width = 210;

QString line_of(const Finding& finding) {
    if (finding.outcome == Outcome::undecided) {
        return QObject::tr("undecided: %1").arg(QString::fromStdString(finding.reason));
    }
    const QString unit =
        finding.unit.empty() ? QString() : " " + QString::fromStdString(finding.unit);
    if (!finding.worst_hz) {
        return QObject::tr("margin %1%2")
            .arg(finding.margin ? QString::fromStdString(fmt::format("{:.4f}", *finding.margin))
                                : QObject::tr("none"),
                 unit);
    }
    const QString where = QString::fromStdString(frequency_text(*finding.worst_hz));
    if (!finding.margin) {
        return QObject::tr("endlessly far out at %1").arg(where);
    }
    const QString amount =
        QString::fromStdString(fmt::format("{:.2f}", std::abs(*finding.margin))) + unit;
    return finding.outcome == Outcome::met ? QObject::tr("%1 to spare at %2").arg(amount, where)
                                           : QObject::tr("%1 over at %2").arg(amount, where);
}

} // namespace

FindingButton::FindingButton(QWidget* parent) : QAbstractButton(parent) {
    setFocusPolicy(Qt::TabFocus);
    setCursor(Qt::PointingHandCursor);
    setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Fixed);
}

void FindingButton::show_finding(const Finding& finding) {
    const QString line = line_of(finding);
    const bool same = line == line_ && finding.requirement == finding_.requirement
                      && finding.outcome == finding_.outcome;
    finding_ = finding;
    if (same) {
        return;
    }
    line_ = line;
    setAccessibleName(QString::fromStdString(finding.requirement) + ": "
                      + (finding.outcome == Outcome::met       ? tr("met")
                         : finding.outcome == Outcome::not_met ? tr("not met")
                                                               : tr("undecided"))
                      + ", " + line_);
    setToolTip(finding.worst_hz ? line_ + tr("\nClick to let the plumb line down there.") : line_);
    updateGeometry();
    update();
}

QSize FindingButton::sizeHint() const {
    const int title =
        QFontMetrics(text_font(11)).horizontalAdvance(QString::fromStdString(finding_.requirement));
    const int line = QFontMetrics(text_font(12, QFont::Medium)).horizontalAdvance(line_);
    // In steps, so that a margin that gains a digit does not push its neighbours about.
    const int wanted = std::max(title, line) + 44;
    return {std::min(300, (wanted + 23) / 24 * 24), 44};
}

void FindingButton::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QPointF at(12, height() / 2.0 + 1);
    const bool met = finding_.outcome == Outcome::met;
    if (met) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(t.met);
        painter.drawEllipse(at, 5, 5);
    } else {
        painter.setPen(QPen(t.not_met, 1.4,
                            finding_.outcome == Outcome::undecided ? Qt::DotLine : Qt::SolidLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolygon(QPolygonF(
            {at + QPointF(0, -7), at + QPointF(7, 0), at + QPointF(0, 7), at + QPointF(-7, 0)}));
    }
    painter.setRenderHint(QPainter::Antialiasing, false);
    if (hasFocus()) {
        painter.setPen(QPen(t.copper, 1, Qt::DotLine));
        painter.drawRect(rect().adjusted(1, 3, -2, -4));
    }
    const QRect text(26, 6, width() - 30, height() - 12);
    painter.setFont(text_font(11));
    painter.setPen(t.soft);
    painter.drawText(text, Qt::AlignLeft | Qt::AlignTop,
                     painter.fontMetrics().elidedText(QString::fromStdString(finding_.requirement),
                                                      Qt::ElideRight, text.width()));
    painter.setFont(text_font(12, QFont::Medium));
    painter.setPen(met ? t.text : t.not_met);
    painter.drawText(text, Qt::AlignLeft | Qt::AlignBottom,
                     painter.fontMetrics().elidedText(line_, Qt::ElideRight, text.width()));
}

VerdictBar::VerdictBar(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), row_(new QWidget(this)) {
    setAttribute(Qt::WA_OpaquePaintEvent);
    setFixedHeight(48);
    setAccessibleName(tr("Verdict"));
    auto* outer = new QHBoxLayout(this);
    outer->setContentsMargins(10, 2, summary_width + 16, 2);
    outer->addWidget(row_, 1);
    auto* inner = new QHBoxLayout(row_);
    inner->setContentsMargins(0, 0, 0, 0);
    inner->setSpacing(8);
    inner->addStretch(1);
    connect(&session_, &Session::analysis_changed, this, &VerdictBar::refresh);
    refresh();
}

void VerdictBar::refresh() {
    const auto analysis = session_.analysis();
    const std::size_t count = analysis != nullptr ? analysis->verdict.size() : 0;
    auto* inner = static_cast<QHBoxLayout*>(row_->layout());
    while (buttons_.size() > count) {
        inner->removeWidget(buttons_.back());
        buttons_.back()->hide();
        buttons_.back()->deleteLater();
        buttons_.pop_back();
    }
    while (buttons_.size() < count) {
        auto* button = new FindingButton(row_);
        inner->insertWidget(static_cast<int>(buttons_.size()), button);
        connect(button, &QAbstractButton::clicked, this, [this, button] {
            if (button->finding().worst_hz) {
                session_.set_plumb(button->finding().worst_hz);
                session_.pin_plumb(true);
            }
        });
        buttons_.push_back(button);
        button->show();
    }
    for (std::size_t i = 0; i < count; ++i) {
        buttons_[i]->show_finding(analysis->verdict[i]);
    }
    update(QRect(width() - summary_width - 16, 0, summary_width + 16, height()));
}

void VerdictBar::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    QPainter painter(this);
    painter.fillRect(rect(), t.ground);
    painter.setPen(t.hairline);
    painter.drawLine(0, 0, width(), 0);
    const auto analysis = session_.analysis();
    if (analysis == nullptr) {
        return;
    }
    const QRect text(width() - summary_width - 16, 8, summary_width, height() - 16);
    painter.setFont(text_font(11));
    painter.setPen(t.soft);
    painter.drawText(text, Qt::AlignRight | Qt::AlignTop,
                     tr("%1 sections · latency %2 samples")
                         .arg(analysis->cost.sections)
                         .arg(analysis->latency_samples));
    painter.setPen(t.text);
    painter.drawText(text, Qt::AlignRight | Qt::AlignBottom,
                     tr("%1 multiplies · %2 adds · %3 words")
                         .arg(analysis->cost.multiplies)
                         .arg(analysis->cost.adds)
                         .arg(analysis->cost.state_words));
}

} // namespace syntonon
