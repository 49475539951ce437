// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dialogs/recovery_dialog.h"

#include "app/widgets/table_rows.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLocale>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

namespace syntonon {

RecoveryDialog::RecoveryDialog(StudyFiles& files, QWidget* parent)
    : QDialog(parent), files_(files), table_(new QTableWidget),
      open_(new QPushButton(tr("Open here"))), beside_(new QPushButton(tr("Open beside"))),
      discard_(new QPushButton(tr("Discard"))) {
    setWindowTitle(tr("Unsaved work"));
    resize(720, 320);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 14, 16, 14);
    set_up_rows(*table_, {tr("from"), tr("study"), tr("file"), tr("unsaved")});
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(3, QHeaderView::Stretch);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setShowGrid(false);
    table_->setAccessibleName(tr("Unsaved work"));
    column->addWidget(table_, 1);
    auto* row = new QHBoxLayout;
    auto* close = new QPushButton(tr("Close"));
    open_->setToolTip(tr("In place of the present study"));
    beside_->setToolTip(tr("In a window of its own"));
    row->addWidget(open_);
    row->addWidget(beside_);
    row->addWidget(discard_);
    row->addStretch(1);
    row->addWidget(close);
    column->addLayout(row);
    connect(close, &QPushButton::clicked, this, &QDialog::reject);
    const auto chosen = [this] { return works_[static_cast<std::size_t>(table_->currentRow())]; };
    connect(open_, &QPushButton::clicked, this, [this, chosen] {
        const RecoveredWork work = chosen();
        accept();
        emit open_asked_for(work);
    });
    connect(beside_, &QPushButton::clicked, this, [this, chosen] {
        emit open_beside_asked_for(chosen());
        refresh();
    });
    connect(discard_, &QPushButton::clicked, this, [this, chosen] {
        files_.discard(chosen());
        refresh();
    });
    refresh();
}

void RecoveryDialog::refresh() {
    works_ = files_.recoverable();
    table_->setRowCount(static_cast<int>(works_.size()));
    for (int row = 0; row < table_->rowCount(); ++row) {
        const RecoveredWork& work = works_[static_cast<std::size_t>(row)];
        const QString text[] = {QLocale::c().toString(work.when, "d MMM yyyy, HH:mm:ss"), work.name,
                                work.original.isEmpty() ? tr("never saved")
                                                        : QFileInfo(work.original).fileName(),
                                size_of_change(work)};
        const QString tips[] = {text[0], text[1], work.original.isEmpty() ? text[2] : work.original,
                                text[3]};
        for (int column = 0; column < table_->columnCount(); ++column) {
            auto* item = new QTableWidgetItem(text[column]);
            item->setToolTip(tips[column]);
            table_->setItem(row, column, item);
        }
    }
    const bool any = !works_.empty();
    table_->setCurrentCell(any ? 0 : -1, 0);
    for (QPushButton* button : {open_, beside_, discard_}) {
        button->setEnabled(any);
    }
}

} // namespace syntonon
