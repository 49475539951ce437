// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/deliver/transfer_page.h"

#include "app/widgets/said.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/device/oca/setting_text.h"

#include <QHeaderView>
#include <QLabel>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace syntonon {
namespace {

constexpr int progress_ms = 100;

QString what_was_set(const oca::TransferReport& report) {
    const QString objects =
        counted(static_cast<qint64>(report.objects), "object set", "objects set");
    return report.taps == 0 ? objects
                            : objects + QStringLiteral(", ")
                                  + counted(static_cast<qint64>(report.taps), "tap", "taps");
}

QString end_text(const oca::TransferReport& report) {
    const QString seconds = fixed_number(report.seconds, 2) + QObject::tr(" s");
    const QString why =
        report.problem ? text_of(to_text(*report.problem)) : QObject::tr("it was stopped");
    switch (report.end) {
    case oca::TransferEnd::done:
        return report.steps.empty()
                   ? QObject::tr("● Nothing differs: the device holds it already.")
                   : QObject::tr("● %1 · %2 · nothing differs").arg(seconds, what_was_set(report));
    case oca::TransferEnd::rolled_back:
        return QObject::tr("◇ Not sent; the device is as it was before: %1").arg(why);
    case oca::TransferEnd::unknown:
        break;
    }
    QStringList muted;
    for (const std::string& path : report.left_muted) {
        muted << text_of(path);
    }
    return QObject::tr("◇ Not sent, and what the device holds now is not known: %1").arg(why)
           + (muted.isEmpty() ? QString() : QObject::tr(" Left muted: %1.").arg(muted.join(", ")));
}

} // namespace

TransferPage::TransferPage(DeviceWork& work, QWidget* parent)
    : QWidget(parent), work_(work), summary_(new QLabel), table_(new QTableWidget) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 8, 16, 8);
    column->setSpacing(6);
    summary_->setWordWrap(true);
    summary_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    summary_->setObjectName("transfer_summary");
    column->addWidget(summary_);
    set_up_rows(*table_, {tr("object"), {}, {}});
    set_up_reading(*table_);
    table_->setAccessibleName(tr("Objects of the transfer"));
    table_->setTextElideMode(Qt::ElideRight);
    column->addWidget(table_, 1);
    progress_.setInterval(progress_ms);
    connect(&progress_, &QTimer::timeout, this, &TransferPage::refresh);
    connect(&work_, &DeviceWork::changed, this, [this] {
        is_dry_run_ = is_dry_run_ && !work_.is_sending();
        if (!is_dry_run_) {
            refresh();
        }
    });
    refresh();
}

QString TransferPage::summary() const {
    return summary_->text();
}

void TransferPage::say(const QString& words, bool is_problem) {
    say_on(*summary_, words, is_problem);
}

void TransferPage::add_row(const QStringList& cells, bool is_bad) {
    const int row = table_->rowCount();
    table_->insertRow(row);
    for (int column = 0; column < cells.size(); ++column) {
        auto* item = new QTableWidgetItem(cells[column]);
        item->setToolTip(cells[column]);
        if (is_bad) {
            item->setForeground(theme().not_met);
        }
        table_->setItem(row, column, item);
    }
}

// Names as wide as they are, the rest for what is said of them.
void TransferPage::share_width() {
    QHeaderView* header = table_->horizontalHeader();
    for (int column = 0; column < table_->columnCount(); ++column) {
        header->setSectionResizeMode(column, column == 0 ? QHeaderView::ResizeToContents
                                                         : QHeaderView::Stretch);
    }
}

void TransferPage::show_delivery(const std::string& delivery) {
    if (delivery_ != delivery) {
        delivery_ = delivery;
        is_dry_run_ = false;
        refresh();
    }
}

void TransferPage::show_dry_run() {
    const DeviceView* seen = work_.view(delivery_);
    if (seen == nullptr || !seen->plan || !*seen->plan) {
        return;
    }
    is_dry_run_ = true;
    table_->setVisible(true);
    const oca::TransferPlan& plan = **seen->plan;
    table_->setRowCount(0);
    table_->setColumnCount(3);
    table_->setHorizontalHeaderLabels({tr("object"), tr("was"), tr("would be")});
    share_width();
    for (const oca::PlannedObject& object : plan.objects) {
        if (object.changes()) {
            add_row({text_of(object.path), text_of(oca::text_of(object.before, object.was_enabled)),
                     text_of(oca::text_of(object.after, object.will_be_enabled))},
                    false);
        }
    }
    QStringList notes;
    for (const std::string& note : plan.notes) {
        notes << text_of(note);
    }
    say(tr("Dry run: %1 would be set; nothing was sent.")
                .arg(counted(static_cast<qint64>(plan.changes()), "object", "objects"))
            + (notes.isEmpty() ? QString() : QStringLiteral(" ◇ ") + notes.join(' ')),
        false);
}

void TransferPage::refresh() {
    const bool is_sending = work_.sending() == delivery_ && work_.is_sending();
    is_sending ? progress_.start() : progress_.stop();
    if (is_sending) {
        table_->setRowCount(0);
        const int percent = static_cast<int>(100 * work_.done());
        say(percent > 0 ? tr("Sending, %1 %…").arg(percent) : tr("Sending…"), false);
        return;
    }
    const SentToDevice* sent = work_.sent(delivery_);
    table_->setVisible(sent != nullptr);
    if (sent != nullptr) {
        show_report(*sent);
    } else {
        table_->setRowCount(0);
        say(tr("Nothing has been sent to a device since this window is open."), false);
    }
}

void TransferPage::show_report(const SentToDevice& sent) {
    table_->setRowCount(0);
    table_->setColumnCount(2);
    table_->setHorizontalHeaderLabels({tr("object"), tr("what was done")});
    share_width();
    for (const oca::TransferStep& step : sent.report.steps) {
        add_row({(step.is_done ? QStringLiteral("● ") : QStringLiteral("◇ ")) + text_of(step.path),
                 text_of(step.what)},
                !step.is_done);
    }
    say(tr("%1: %2").arg(sent.when.toString(QStringLiteral("HH:mm:ss")), end_text(sent.report)),
        sent.report.end != oca::TransferEnd::done);
}

} // namespace syntonon
