// The panel of stages that are fitted: the button that fits, and how it stands.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/trim/fields_trim.h"

class QComboBox;
class QLabel;
class QPushButton;

namespace syntonon {

// What a fit may do stands before the button: fields, and choices that a kind adds.
class FitTrim : public FieldsTrim {
    Q_OBJECT

public:
    FitTrim(Session& session, std::vector<TrimField> fields, QWidget* parent = nullptr);
    void show_stage(const Stage& stage) override;
    bool needs_all_room() const override { return true; }

    QPushButton* fit() const { return fit_; } // stops while it is being fitted
    QString words() const;

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void press();
    void tell_state();

    QPushButton* fit_;
    QLabel* words_;
    QString refused_; // why the last wish to fit came to nothing
    std::string shown_;
};

// "0.19 dB rms, 0.8 dB at 60 Hz; 2.5 dB rms without" or why there is nothing to say.
QString fit_words(Session& session, const std::string& stage);

} // namespace syntonon
