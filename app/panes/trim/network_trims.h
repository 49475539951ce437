// The panels of loops and repetitions.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/trim/fields_trim.h"

class QLabel;
class QPushButton;

namespace syntonon {

// The factor of the return; a delay of one sample where there is none.
class LoopTrim : public FieldsTrim {
    Q_OBJECT

public:
    explicit LoopTrim(Session& session, QWidget* parent = nullptr);
    void show_stage(const Stage& stage) override;
    QPushButton* delay_button() const { return delay_; }
    QLabel* words() const { return words_; }

private:
    void put_delay_in();

    QPushButton* delay_;
    QLabel* words_; // how the loop is solved
};

} // namespace syntonon
