// A line of text that takes a number with a unit: for forms with many of them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/base/quantity.h"

#include <QLineEdit>
#include <functional>
#include <optional>

namespace syntonon {

// Enter or leaving takes what was typed; Escape puts the old number back. What cannot be read is
// said through `problem_found` and stays in the line, marked, until it is mended.
class QuantityEdit : public QLineEdit {
    Q_OBJECT

public:
    // `unit` is shown behind the number; `empty_text` stands for "none", which is then allowed.
    QuantityEdit(Dimension dimension, const QString& unit, const QString& empty_text = {},
                 QWidget* parent = nullptr);

    void set_sample_rate(double hz) { context_.sample_rate_hz = hz; }
    void set_unit(const QString& unit) { unit_ = unit; }
    // How much of the dimension's own unit the shown one is: 0.001 for ms, which is of s. A number
    // that is typed bare is meant in the shown one.
    void set_scale(double scale) { scale_ = scale; }
    // Unless the user is typing.
    void show_value(std::optional<double> value);
    std::optional<double> value() const { return value_; }

signals:
    void value_entered(std::optional<double> value);
    void problem_found(const QString& text);

protected:
    void focusInEvent(QFocusEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void take();
    void mark(bool wrong);
    QString text_of(std::optional<double> value) const;

    Dimension dimension_;
    QString unit_, empty_text_;
    QuantityContext context_;
    double scale_ = 1;
    std::optional<double> value_;
    bool wrong_ = false;
};

} // namespace syntonon
