// The panel of recursive fits: order, what is matched, and over what.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/trim/fit_trim.h"

namespace syntonon {

// All other settings stand on the page “Fit”.
class FittedTrim : public FitTrim {
    Q_OBJECT

public:
    explicit FittedTrim(Session& session, QWidget* parent = nullptr);
    void show_stage(const Stage& stage) override;

    QComboBox* match() const { return match_; }
    QComboBox* errors() const { return errors_; }

private:
    QComboBox *match_, *errors_;
};

} // namespace syntonon
