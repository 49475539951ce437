// The profile of the chosen delivery's processor; every change is made to the study at once.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QWidget>
#include <string>

class QLabel;
class QPushButton;
class QTableWidget;

namespace syntonon {

class ProcessorPage : public QWidget {
    Q_OBJECT

public:
    explicit ProcessorPage(Session& session, QWidget* parent = nullptr);

    void show_delivery(const std::string& delivery);
    QTableWidget* table() const { return table_; }
    QPushButton* copy_button() const { return copy_; }
    QPushButton* restore_button() const { return restore_; }
    QString problem() const;
    void read_file(const QString& path);
    void write_file(const QString& path);

private:
    QWidget* build_buttons();
    void refresh();
    void take(int row);
    void use(const std::string& processor, const QString& what);
    void say(const QString& words, bool is_problem);
    const Processor* processor() const; // null: none

    Session& session_;
    std::string delivery_;
    QLabel* status_;
    QTableWidget* table_;
    QPushButton *copy_, *restore_, *read_, *write_;
    bool filling_ = false;
};

} // namespace syntonon
