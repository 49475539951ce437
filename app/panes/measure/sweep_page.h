// The sweep that responses are measured with: written as files, or played and recorded.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/measured_files.h"
#include "app/model/session.h"
#include "core/curve/sweep.h"

#include <QWidget>
#include <map>
#include <string>

class QComboBox;
class QFormLayout;
class QLabel;
class QLayout;
class QPushButton;
class QStackedWidget;

namespace syntonon {

class QuantityEdit;
class SimulatedRoomBox;
class SoundDeviceBox;

class SweepPage : public QWidget {
    Q_OBJECT

public:
    explicit SweepPage(Session& session, QWidget* parent = nullptr);

    const SweepPlan& plan() const { return plan_; }
    QuantityEdit* edit(const char* field) const { return edits_.at(field); }
    QPushButton* write_button() const { return write_; }
    QPushButton* import_button() const { return import_; }
    QPushButton* record_button() const { return record_; } // stops, too
    QComboBox* where_choice() const { return where_; }
    SimulatedRoomBox* room() const { return room_; }
    SoundDeviceBox* device() const { return device_; }
    bool is_busy() const;
    QString said() const;

    // Sweep and inverse filter beside it: "NAME.wav", "NAME-inverse.wav".
    Expected<void> write(const std::string& path) const;

signals:
    void import_asked_for();
    void about_to_play(); // what else plays must be quiet
    void recorded(const MeasuredFiles& files);

private:
    QLayout* plan_form();
    QLayout* recording_row();
    void add_field(QFormLayout& form, const char* field, const QString& name, QuantityEdit* edit,
                   double SweepPlan::*number);
    void take(const SweepPlan& changed);
    bool is_in_room() const;
    void show_where();
    void show_record();
    void show_plan();
    void say(const QString& text, bool is_problem);
    void ask_write();
    void record_or_stop();

    Session& session_;
    SweepPlan plan_;
    std::map<std::string, QuantityEdit*> edits_;
    QLabel *facts_, *said_;
    QComboBox* where_;
    QStackedWidget* boxes_;
    SoundDeviceBox* device_;
    SimulatedRoomBox* room_;
    QPushButton *write_, *import_, *record_;
};

} // namespace syntonon
