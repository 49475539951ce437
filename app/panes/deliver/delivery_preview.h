// What a delivery would write: its files, their text, the folder, and the button that does it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/deliver.h"

#include <QWidget>
#include <vector>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPlainTextEdit;
class QPushButton;

namespace syntonon {

class DeliveryPreview : public QWidget {
    Q_OBJECT

public:
    explicit DeliveryPreview(QWidget* parent = nullptr);

    void show_plan(const QString& name, const Expected<std::vector<PlannedFile>>& plan);
    // Which channel's file is shown first; another one can be chosen.
    void prefer_channel(const std::string& channel);
    // What writing would do now; `blocked`: not before the user has decided.
    void show_outlook(const QString& words, bool blocked);
    void say(const QString& words, bool is_problem); // what came of it

    QString folder() const;
    void set_folder(const QString& folder); // without a signal
    bool may_replace() const;
    void forget_permission(); // to replace files

    QString text() const; // the shown file's
    QString status() const;
    QComboBox* files() const { return files_; }
    QPushButton* write_button() const { return write_; }
    QCheckBox* replace_choice() const { return replace_; }
    QLineEdit* folder_edit() const { return folder_; }

signals:
    void write_asked_for();
    void folder_changed();
    void permission_changed();

private:
    QWidget* foot();

    int first_of_preferred() const; // 0 where it has none

    std::vector<QString> texts_;
    std::vector<std::string> channels_; // of the files
    std::string preferred_;
    QLabel *title_, *status_;
    QComboBox* files_;
    QPlainTextEdit* preview_;
    QLineEdit* folder_;
    QCheckBox* replace_;
    QPushButton* write_;
};

} // namespace syntonon
