// The knob under the lanes.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/sweep.h"

#include <QWidget>

class QLabel;
class QMenu;
class QToolButton;

namespace syntonon {

class KnobBar;
class LaneStack;
class QuantityEdit;

// Which number it turns is chosen at its left; a mark shows where the chain turns unstable, words
// below what the step response does meanwhile.
class SweepBar : public QWidget {
    Q_OBJECT

public:
    SweepBar(Session& session, LaneStack& lanes, QWidget* parent = nullptr);

    Sweep& sweep() { return sweep_; }
    KnobBar* knob() const { return knob_; }
    QToolButton* chooser() const { return chooser_; }
    QToolButton* runs() const { return runs_; }
    QuantityEdit* low() const { return low_; }
    QuantityEdit* high() const { return high_; }
    QuantityEdit* value() const { return value_; }
    QString words() const;
    // Of the selected stage what is likeliest to be turned, where nothing was chosen yet.
    void take_something();
    // PNGs "sweep-0001.png", … of the lanes; refused where one cannot be written.
    Expected<void> animate_into(const QString& folder, int frames);
    Expected<void> save_family(const QString& path, int count);

signals:
    void closed();
    void problem_found(const QString& text);

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    QuantityEdit* make_edit(const QString& name);
    void fill_chooser(QMenu& menu);
    void add_numbers(QMenu& menu, const Stage& stage);
    void make_family_menu(QToolButton& button);
    void show_number();
    void show_words();
    double place_of(double value) const;
    double value_at(double place) const;

    Session& session_;
    LaneStack& lanes_;
    Sweep sweep_;
    QToolButton *chooser_, *runs_, *family_, *close_;
    KnobBar* knob_;
    QuantityEdit *low_, *high_, *value_;
    QLabel* words_;
    QString gesture_;
    Dimension dimension_ = Dimension::plain;
};

} // namespace syntonon
