// The panels of loops and repetitions.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/trim/fields_trim.h"
#include "core/filter/loop.h"

#include <QString>
#include <optional>

class QLabel;
class QPushButton;

namespace syntonon {

class KnobBar;

// The factor of the return, as a number and on a knob that shows from where on the loop is
// unstable; a delay of one sample where there is none.
class LoopTrim : public FieldsTrim {
    Q_OBJECT

public:
    explicit LoopTrim(Session& session, QWidget* parent = nullptr);
    void show_stage(const Stage& stage) override;
    QPushButton* delay_button() const { return delay_; }
    QLabel* words() const { return words_; } // how the loop is solved, and its margins
    KnobBar* knob() const { return knob_; }

private:
    void put_delay_in();
    void show_range(const Loop& loop);

    QPushButton* delay_;
    QLabel* words_;
    KnobBar* knob_;
    QString gesture_;
    std::optional<Filter> forward_, feedback_; // of which the range is known
};

// How many times, as a number and on a knob.
class RepeatTrim : public FieldsTrim {
    Q_OBJECT

public:
    explicit RepeatTrim(Session& session, QWidget* parent = nullptr);
    void show_stage(const Stage& stage) override;
    KnobBar* knob() const { return knob_; }

private:
    KnobBar* knob_;
    QString gesture_;
};

} // namespace syntonon
