// The panel of recursive fits: order, what is matched, and over what.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/trim/fit_trim.h"

namespace syntonon {

class TitledBox;

// All other settings stand on the page “Fit”.
class FittedTrim : public FitTrim {
    Q_OBJECT

public:
    explicit FittedTrim(Session& session, QWidget* parent = nullptr);
    void show_stage(const Stage& stage) override;

    QComboBox* match() const { return match_; }
    QComboBox* errors() const { return errors_; }
    QComboBox* method() const { return method_; } // of a model of an impulse response

private:
    void choose_method(int index);

    QComboBox *match_, *errors_, *method_;
    TitledBox *errors_box_, *method_box_;
};

} // namespace syntonon
