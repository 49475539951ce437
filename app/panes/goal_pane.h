// The goal of the selected channel: target, corridor, requirements and weights.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QWidget>
#include <array>

class QComboBox;
class QLabel;
class QPushButton;
class QStackedWidget;
class QTableWidget;

namespace syntonon {

class CorridorTab;
class GoalTab;
class RequirementsTab;
class TabStrip;
class TargetTab;
class WeightsTab;

class GoalPane : public QWidget {
    Q_OBJECT

public:
    explicit GoalPane(Session& session, QWidget* parent = nullptr);

    QTableWidget* target_table() const;
    QTableWidget* corridor_table() const;
    QComboBox* goal_choice() const { return goal_; }
    QComboBox* measured_choice() const { return measured_; }
    QPushButton* make_button() const { return make_; }
    QComboBox* level_choice() const { return level_text_; }
    TabStrip* tabs() const { return tabs_; }
    TargetTab* target_tab() const { return target_; }
    CorridorTab* corridor_tab() const { return corridor_; }
    RequirementsTab* requirements_tab() const { return requirements_; }
    WeightsTab* weights_tab() const { return weights_; }
    void show_tab(int index);
    QString problem() const;

signals:
    void import_asked_for();
    void goal_menu_asked_for(const QPoint& at);
    void weight_lane_wanted(bool shown);

protected:
    void showEvent(QShowEvent* event) override;

private:
    void lay_out();
    void refresh();
    void fill_choices();
    void say(const QString& problem);
    QString standing_problem() const;

    Session& session_;
    QComboBox *measured_, *goal_, *level_text_;
    QPushButton *more_, *make_;
    QWidget* no_goal_; // says that there is none, with the button that makes one
    TabStrip* tabs_;
    QStackedWidget* pages_;
    TargetTab* target_;
    CorridorTab* corridor_;
    RequirementsTab* requirements_;
    WeightsTab* weights_;
    QLabel* problem_;
};

} // namespace syntonon
