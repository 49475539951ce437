// Sweeps played and recorded in the demo's simulated room, with what can go wrong.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"
#include "app/model/measured_files.h"
#include "core/base/problem.h"
#include "core/curve/sweep.h"

#include <QTemporaryDir>
#include <QWidget>
#include <vector>

class QAction;
class QCheckBox;
class QComboBox;
class QToolButton;

namespace syntonon {

class QuantityEdit;

class SimulatedRoomBox : public QWidget {
    Q_OBJECT

public:
    explicit SimulatedRoomBox(QWidget* parent = nullptr);

    void record(const SweepPlan& plan); // then recorded(), or said()
    void stop();
    bool is_busy() const { return work_.is_busy(); }
    // The place of that name, which is measured next; where there is none, nothing changes.
    void choose(const std::string& loudspeaker, const std::string& row);
    QComboBox* loudspeaker_choice() const { return loudspeaker_; }
    QComboBox* row_choice() const { return row_; }
    QToolButton* faults() const { return faults_; } // with their menu
    QCheckBox* reference_choice() const { return reference_; }

signals:
    void said(const QString& text, bool is_problem);
    void recorded(const MeasuredFiles& files); // in a folder that goes with the box

private:
    void fill_choices();
    void take_fault(QAction* action);
    void show_faults();
    void take(const std::vector<Expected<QString>>& made, MeasuredFiles files);

    QComboBox *loudspeaker_, *row_;
    QToolButton* faults_;
    QCheckBox* reference_;
    QuantityEdit* noise_;
    QTemporaryDir folder_;
    Beside work_{this};
};

} // namespace syntonon
