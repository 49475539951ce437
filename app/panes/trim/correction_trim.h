// The panel of corrections: what a fit may do, the button that fits, and how it stands.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/trim/fields_trim.h"
#include "core/design/correction.h"

class QComboBox;
class QLabel;
class QPushButton;

namespace syntonon {

// All other settings stand on the page “Correction”.
class CorrectionTrim : public FieldsTrim {
    Q_OBJECT

public:
    explicit CorrectionTrim(Session& session, QWidget* parent = nullptr);
    void show_stage(const Stage& stage) override;
    bool needs_all_room() const override { return true; }

    QComboBox* method() const { return method_; }
    QComboBox* phase() const { return phase_; } // of taps
    QPushButton* fit() const { return fit_; }   // stops while it is being fitted
    QString words() const;

private:
    void take_method(int index);
    void press();
    void tell_state();
    void resizeEvent(QResizeEvent* event) override;

    QComboBox *method_, *phase_;
    QWidget* phase_box_;
    QPushButton* fit_;
    QLabel* words_;
    QString refused_; // why the last wish to fit came to nothing
    std::string shown_;
};

// "0.19 dB rms, 0.8 dB at 60 Hz; 2.5 dB rms without" or why there is nothing to say.
QString fit_words(Session& session, const std::string& stage);

} // namespace syntonon
