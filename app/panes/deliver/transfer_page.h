// What a transfer would set, or what the last one has done.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/device_work.h"

#include <QTimer>
#include <QWidget>
#include <string>

class QLabel;
class QTableWidget;

namespace syntonon {

class TransferPage : public QWidget {
    Q_OBJECT

public:
    explicit TransferPage(DeviceWork& work, QWidget* parent = nullptr);

    // Its last transfer, or nothing.
    void show_delivery(const std::string& delivery);
    // What sending it now would set.
    void show_dry_run();

    QTableWidget* table() const { return table_; }
    QString summary() const;

private:
    void refresh();
    void show_report(const SentToDevice& sent);
    void say(const QString& words, bool is_problem);
    void share_width();
    void add_row(const QStringList& cells, bool is_bad);

    DeviceWork& work_;
    std::string delivery_;
    bool is_dry_run_ = false;
    QLabel* summary_;
    QTableWidget* table_;
    QTimer progress_;
};

} // namespace syntonon
