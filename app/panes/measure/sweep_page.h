// The sweep that responses are measured with: written as files, or played in the simulated room.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"
#include "app/model/session.h"
#include "core/curve/sweep.h"

#include <QTemporaryDir>
#include <QWidget>
#include <map>
#include <memory>
#include <string>

class QComboBox;
class QFormLayout;
class QLabel;
class QPushButton;

namespace syntonon {

class QuantityEdit;

class SweepPage : public QWidget {
    Q_OBJECT

public:
    explicit SweepPage(Session& session, QWidget* parent = nullptr);

    const SweepPlan& plan() const { return plan_; }
    QuantityEdit* edit(const char* field) const { return edits_.at(field); }
    QPushButton* write_button() const { return write_; }
    QPushButton* import_button() const { return import_; }
    QPushButton* record_button() const { return record_; }
    QComboBox* loudspeaker_choice() const { return loudspeaker_; }
    QComboBox* row_choice() const { return row_; }
    QComboBox* fault_choice() const { return fault_; }
    bool is_busy() const { return work_.is_busy(); }
    QString said() const;

    // Sweep and inverse filter beside it: "NAME.wav", "NAME-inverse.wav".
    Expected<void> write(const std::string& path) const;

signals:
    void import_asked_for();
    void recorded(const QStringList& paths); // files in a folder that goes with the page

private:
    void add_field(QFormLayout& form, const char* field, const QString& name, QuantityEdit* edit,
                   double SweepPlan::*number);
    QWidget* simulated_room();
    void show_plan();
    void say(const QString& text, bool is_problem);
    void ask_write();
    void record();

    Session& session_;
    SweepPlan plan_;
    std::map<std::string, QuantityEdit*> edits_;
    QuantityEdit* noise_;
    QLabel *facts_, *said_;
    QComboBox *loudspeaker_, *row_, *fault_;
    QPushButton *write_, *import_, *record_;
    QTemporaryDir folder_;
    Beside work_{this};
};

} // namespace syntonon
