// The device of the chosen delivery: connected, which of its objects become which stages, sent.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/device_work.h"

#include <QTimer>
#include <QWidget>
#include <optional>
#include <string>
#include <vector>

class QComboBox;
class QLabel;
class QMenu;
class QPushButton;
class QToolButton;
class QVBoxLayout;

namespace syntonon {

class MappingRow;

class DevicePage : public QWidget {
    Q_OBJECT

public:
    DevicePage(Session& session, DeviceWork& work, QWidget* parent = nullptr);

    void show_delivery(const std::string& delivery);

    QComboBox* address() const { return address_; }
    QPushButton* connect_button() const { return connect_; }
    QToolButton* simulated_button() const { return simulated_; }
    QToolButton* output_button() const { return output_; }
    QPushButton* dry_run_button() const { return dry_run_; }
    QPushButton* send_button() const { return send_; }
    QPushButton* back_button() const { return back_; }
    QPushButton* live_button() const { return live_; }
    QPushButton* takes_button() const { return takes_; }
    QToolButton* more_button() const { return more_; }
    const std::vector<MappingRow*>& rows() const { return rows_; }
    QString status() const;
    QString level_text() const;
    // What a row's menu offers; made anew.
    QMenu* menu_for(const MappingRow& row);

signals:
    void dry_run_asked_for();
    void sending(); // begun

private:
    QWidget* build_connection();
    QWidget* build_head();
    QWidget* build_buttons();
    void fill_addresses();
    void fill_simulated();
    void fill_running(QMenu& menu, const QString& address);
    void fill_outputs();
    void fill_more();
    void start_simulated(const Processor& processor);
    void connect_to(const QString& address);
    void refresh();
    void show_status();
    void show_rows();
    void show_buttons();
    void show_levels();
    void say(const QString& words, bool is_problem);
    const DeviceView* view() const { return work_.view(delivery_); }
    const oca::MappedChannel* mapped() const; // the session's channel; null: not in it

    Session& session_;
    DeviceWork& work_;
    std::string delivery_;
    QComboBox* address_;
    QPushButton* connect_;
    QToolButton *simulated_, *output_;
    QLabel *status_, *stages_, *level_, *nothing_;
    QWidget* head_;
    QVBoxLayout* column_; // of the rows
    std::vector<MappingRow*> rows_;
    QPushButton *dry_run_, *send_, *back_, *live_, *takes_;
    QToolButton* more_;
    std::optional<std::string> shown_address_;
    QString said_; // until something else happens
    bool said_problem_ = false;
    QTimer level_timer_;
};

} // namespace syntonon
