// The takes of the selected channel, and which two curves are compared.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QWidget>

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;
class QTableWidget;

namespace syntonon {

class TakesPane : public QWidget {
    Q_OBJECT

public:
    explicit TakesPane(Session& session, QWidget* parent = nullptr);

    QTableWidget* table() const { return table_; }
    QPushButton* freeze_button() const { return freeze_; }
    QPushButton* restore_button() const { return restore_; }
    QPushButton* only_button() const { return only_; }
    QPushButton* delete_button() const { return delete_; }
    QCheckBox* difference_shown() const { return difference_; }
    QComboBox* difference_of_choice() const { return of_; }
    QComboBox* difference_from_choice() const { return from_; }

protected:
    void showEvent(QShowEvent* event) override;

private:
    void lay_out();
    void follow_buttons();
    void take_cell(int at, int column);
    void refresh();
    void show_difference();
    void take_difference();

    Session& session_;
    QTableWidget* table_;
    QPushButton *freeze_, *restore_, *only_, *all_, *none_, *delete_;
    QCheckBox* difference_;
    QComboBox *of_, *from_;
    QLabel* problem_;
    bool filling_ = false;
};

} // namespace syntonon
