// The target: points, a house curve, or something that is followed; and where its 0 dB lies.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/goal/goal_tab.h"

class QComboBox;
class QHBoxLayout;
class QLabel;
class QPushButton;
class QStackedWidget;

namespace syntonon {

class HouseCurveForm;
class QuantityEdit;

class TargetTab : public GoalTab {
    Q_OBJECT

public:
    explicit TargetTab(Session& session);
    void refresh(const Goal* goal) override;

    NumberTable* points() const { return points_; }
    QComboBox* quantity_choice() const { return quantity_; }
    QComboBox* form_choice() const { return form_; }
    QComboBox* followed_choice() const { return followed_; }
    QComboBox* anchor_choice() const { return anchor_; }
    HouseCurveForm* house() const { return house_; }
    QuantityEdit* shift_edit() const { return shift_; }
    QuantityEdit* scale_edit() const { return scale_; }

private:
    QWidget* build_points();
    QHBoxLayout* build_changes();
    QWidget* build_followed();
    QWidget* build_anchor();
    // The line that the table shows: of the level, the phase or the delay target.
    const TargetLine* line_of(const Goal& goal) const;
    TargetLine& line_of(Goal& goal) const;
    void show_points(const Goal* goal);
    void show_followed(const Goal* goal);
    void show_anchor(const Goal* goal);
    void take_point(int row, int column, const QString& text);
    void choose_form(int index);
    void choose_after(int index);
    void add_point();
    void remove_points();
    void move_chosen(double ratio, double by, const QString& name);

    QComboBox *quantity_, *form_, *after_, *followed_, *smoothing_, *anchor_;
    QStackedWidget* forms_;
    HouseCurveForm* house_;
    NumberTable* points_;
    QPushButton* jump_;
    QuantityEdit *shift_, *scale_;
    QuantityEdit *anchor_offset_, *anchor_from_, *anchor_to_;
    QWidget *anchor_row_, *anchor_range_;
};

} // namespace syntonon
