// Every step of the history by its name; a click goes there.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QDialog>

class QPushButton;
class QUndoView;

namespace syntonon {

class HistoryDialog : public QDialog {
    Q_OBJECT

public:
    explicit HistoryDialog(Session& session, QWidget* parent = nullptr);

    QUndoView* list() const { return list_; }
    QPushButton* saved_button() const { return saved_; }

private:
    QUndoView* list_;
    QPushButton* saved_;
};

} // namespace syntonon
