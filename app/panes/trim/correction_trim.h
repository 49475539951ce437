// The panel of corrections: what a fit may do.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/trim/fit_trim.h"

namespace syntonon {

// All other settings stand on the page “Correction”.
class CorrectionTrim : public FitTrim {
    Q_OBJECT

public:
    explicit CorrectionTrim(Session& session, QWidget* parent = nullptr);
    void show_stage(const Stage& stage) override;

    QComboBox* method() const { return method_; }
    QComboBox* phase() const { return phase_; } // of taps

private:
    void take_method(int index);

    QComboBox *method_, *phase_;
    QWidget* phase_box_;
};

} // namespace syntonon
