// The panel of difference equations: what turns a ready one, and the coefficients themselves.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/trim/fields_trim.h"
#include "core/word/layout.h"

class QComboBox;
class QLabel;
class QLineEdit;

namespace syntonon {

// The sign with which rows of coefficients are written and read on this machine.
FeedbackSign feedback_as_written();

// Coefficients are typed or pasted into one of two lines, whole equations and transfer functions
// into either; the filter follows while one types. What cannot be read is marked and changes
// nothing.
class RecursionTrim : public FieldsTrim {
    Q_OBJECT

public:
    explicit RecursionTrim(Session& session, QWidget* parent = nullptr);
    void show_stage(const Stage& stage) override;
    bool needs_all_room() const override { return true; }

    QLineEdit* b() const { return b_; }
    QLineEdit* a() const { return a_; }
    QComboBox* sign() const { return sign_; }
    QString problem() const;

private:
    void show_sign();
    void write_with(FeedbackSign sign);
    void read_the_other_way();
    void take_typed(QLineEdit& edited);
    void take(const Coefficients& coefficients);
    void show_rows();
    void show_problem(const QString& text);

    QLineEdit *b_, *a_;
    QComboBox* sign_;
    QLabel* problem_;
    Coefficients shown_; // what the lines say
};

} // namespace syntonon
