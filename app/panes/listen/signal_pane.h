// The choice of the signal: impulse, step, or a row of numbers typed or pasted.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/test_signal.h"

#include <QWidget>

class QLabel;
class QPlainTextEdit;
class QRadioButton;
class QSpinBox;

namespace syntonon {

class SignalPane : public QWidget {
    Q_OBJECT

public:
    explicit SignalPane(TestSignal& signal, QWidget* parent = nullptr);

    QRadioButton* choice(SignalKind kind) const;
    QPlainTextEdit* numbers() const { return numbers_; }
    QSpinBox* length() const { return length_; }
    QString problem() const;

private:
    void take_numbers();

    TestSignal& signal_;
    QRadioButton *impulse_, *step_, *row_;
    QPlainTextEdit* numbers_;
    QSpinBox* length_;
    QLabel* facts_;
};

} // namespace syntonon
