// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dialogs/history_dialog.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QUndoView>
#include <QVBoxLayout>

namespace syntonon {

HistoryDialog::HistoryDialog(Session& session, QWidget* parent)
    : QDialog(parent), list_(new QUndoView(&session.history())),
      saved_(new QPushButton(tr("Back to as saved"))) {
    setWindowTitle(tr("History"));
    setAttribute(Qt::WA_DeleteOnClose);
    resize(360, 460);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 12, 14, 12);
    list_->setEmptyLabel(tr("As opened"));
    list_->setFrameShape(QFrame::NoFrame);
    list_->setAccessibleName(tr("Steps of the history"));
    column->addWidget(
        new QLabel(tr("A click goes to a step; nothing is lost until another is made.")));
    column->addWidget(list_, 1);
    auto* row = new QHBoxLayout;
    auto* close = new QPushButton(tr("Close"));
    saved_->setToolTip(tr("The study as it was saved or opened last, as one more step"));
    row->addWidget(saved_);
    row->addStretch(1);
    row->addWidget(close);
    column->addLayout(row);
    const auto follow = [this, &session] { saved_->setEnabled(session.differs_from_saved()); };
    connect(&session, &Session::study_changed, this, follow);
    connect(&session, &Session::modified_changed, this, follow);
    connect(saved_, &QPushButton::clicked, &session, &Session::go_back_to_saved);
    connect(close, &QPushButton::clicked, this, &QDialog::close);
    follow();
}

} // namespace syntonon
