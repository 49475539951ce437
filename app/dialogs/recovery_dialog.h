// Everything that was left unsaved, to be opened or thrown away.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/study_files.h"

#include <QDialog>

class QPushButton;
class QTableWidget;

namespace syntonon {

class RecoveryDialog : public QDialog {
    Q_OBJECT

public:
    explicit RecoveryDialog(StudyFiles& files, QWidget* parent = nullptr);

    QTableWidget* table() const { return table_; } // time, name, file, size of the change
    QPushButton* open_button() const { return open_; }
    QPushButton* beside_button() const { return beside_; }
    QPushButton* discard_button() const { return discard_; }

signals:
    void open_asked_for(const RecoveredWork& work);
    void open_beside_asked_for(const RecoveredWork& work); // in a window of its own

private:
    void refresh();

    StudyFiles& files_;
    std::vector<RecoveredWork> works_;
    QTableWidget* table_;
    QPushButton *open_, *beside_, *discard_;
};

} // namespace syntonon
