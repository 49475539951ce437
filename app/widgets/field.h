// A number box that takes units and small arithmetic, and can be scrubbed with the pointer.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/base/quantity.h"

#include <QWidget>
#include <functional>

class QLabel;
class QLineEdit;

namespace syntonon {

// Caption above, number and unit on a line, and what is wrong below. Enter or leaving the field
// takes what was typed; Escape puts the number back; Up and Down step (Shift: finely); dragging the
// caption or the unit sideways scrubs. The number never blanks out.
class Field : public QWidget {
    Q_OBJECT

public:
    struct Format {
        QString caption;
        QString unit;
        Dimension dimension = Dimension::plain;
        int places = 2;             // digits after the point
        bool signed_number = false; // shows + and −
        // One step from a value: up for direction +1, down for -1, scaled for fine steps.
        std::function<double(double value, double steps)> step;
    };

    explicit Field(Format format, QWidget* parent = nullptr);

    // Shows a value unless the user is typing into the field. `derived` marks a number that
    // follows from another field.
    void show_value(double value, bool derived = false);
    void show_problem(const QString& text); // empty: none
    // Shows the number in another unit, of which one is so many canonical ones. What is typed
    // without a unit is in that: `suffix` is put behind it.
    void set_unit(const QString& unit, const char* suffix, double canonical, int places);
    void set_sample_rate(double hz) { context_.sample_rate_hz = hz; }
    double value() const { return value_; }
    QLineEdit* editor() const { return edit_; }
    QString problem() const { return problem_; }

    QSize sizeHint() const override { return {104, 66}; }
    QSize minimumSizeHint() const override { return {72, 66}; }

signals:
    // In the canonical unit. `continuing` while scrubbing or stepping: such changes make one undo
    // step.
    void value_entered(double value, bool continuing);
    void gesture_ended();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void moveEvent(QMoveEvent* event) override;
    void hideEvent(QHideEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void take_typed();
    void step_by(double steps);
    QString text_of(double value) const;
    Expected<double> parsed(const QString& text) const;
    void restyle();
    void place_problem();
    void show_tip();

    Format format_;
    QuantityContext context_;
    QLineEdit* edit_;
    QLabel* problem_label_; // below the field; may reach under its neighbours
    double value_ = 0;
    bool derived_ = false;
    QString suffix_; // of the unit shown, empty: the canonical one
    double canonical_per_unit_ = 1;
    QString problem_;
    bool scrubbing_ = false;
    int scrub_x_ = 0;
};

// Steps for Format::step.
double step_by_ratio(double value, double steps); // frequencies, widths: a 24th of an octave
double step_by_tenth(double value, double steps); // levels: 0.1

} // namespace syntonon
