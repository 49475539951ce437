// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/jobs_box.h"

#include "app/widgets/theme.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QPushButton>
#include <algorithm>
#include <cmath>

namespace syntonon {

JobsBox::JobsBox(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), button_(new QPushButton(this)) {
    setFixedWidth(sizeHint().width());
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 6, 0);
    layout->addStretch(1);
    layout->addWidget(button_, 0, Qt::AlignVCenter);
    connect(button_, &QPushButton::clicked, this,
            [this] { is_stopped_ ? session_.start_jobs_again() : session_.stop_jobs(); });
    hide();
}

void JobsBox::refresh() {
    const auto jobs = session_.jobs();
    setVisible(!jobs.empty());
    if (jobs.empty()) {
        return;
    }
    line_ = jobs.size() == 1 ? QString::fromStdString(jobs.front().name)
                             : tr("%1 designs").arg(jobs.size());
    is_stopped_ = std::ranges::all_of(jobs, &Runner::State::is_stopped);
    judges_only_ = session_.is_judging() && jobs.size() == 1;
    button_->setVisible(!judges_only_); // a verdict is not stopped
    done_ = 0;
    QStringList names;
    for (const Runner::State& job : jobs) {
        done_ += job.done / static_cast<double>(jobs.size());
        names.append(QStringLiteral("%1: %2 %")
                         .arg(QString::fromStdString(job.name))
                         .arg(std::lround(100 * job.done)));
    }
    button_->setText(is_stopped_ ? tr("Start again") : tr("Stop"));
    button_->setToolTip(is_stopped_ ? tr("Design what was stopped") : tr("Stop designing"));
    setAccessibleName(tr("Designing %1, %2 %").arg(line_).arg(std::lround(100 * done_)));
    setToolTip(names.join('\n'));
    update();
}

void JobsBox::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    QPainter painter(this);
    const QRect text(0, 4, button_->x() - 8, height() - 12);
    const auto elided = [&](const QString& words) {
        return painter.fontMetrics().elidedText(words, Qt::ElideRight, text.width());
    };
    painter.setFont(text_font(11));
    painter.setPen(t.soft);
    painter.drawText(text, Qt::AlignLeft | Qt::AlignTop, elided(line_));
    painter.setFont(text_font(12, QFont::Medium));
    painter.setPen(t.text);
    painter.drawText(text, Qt::AlignLeft | Qt::AlignBottom,
                     judges_only_  ? tr("being found…")
                     : is_stopped_ ? tr("stopped")
                                   : tr("designing… %1 %").arg(std::lround(100 * done_)));
    if (judges_only_) {
        return; // how far it is, is not known
    }
    const QRect bar(text.left(), height() - 5, text.width(), 2);
    painter.fillRect(bar, t.hairline);
    painter.fillRect(bar.x(), bar.y(), static_cast<int>(bar.width() * done_), 2,
                     is_stopped_ ? t.soft : t.copper);
}

} // namespace syntonon
