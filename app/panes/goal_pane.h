// The goal of the selected channel, in two small tables.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QPushButton;
class QTableWidget;

namespace syntonon {

class GoalPane : public QWidget {
    Q_OBJECT

public:
    explicit GoalPane(Session& session, QWidget* parent = nullptr);

    QTableWidget* target_table() const { return points_; }
    QTableWidget* corridor_table() const { return ranges_; }
    QComboBox* goal_choice() const { return goal_; }
    QComboBox* measured_choice() const { return measured_; }

signals:
    void import_asked_for();

protected:
    void showEvent(QShowEvent* event) override;

private:
    void refresh();
    void fill_choices();
    void fill_tables(const Goal* goal);
    void take_point(int row, int column);
    void take_range(int row, int column);
    // Makes `tried` the goal, or says what is wrong with it and shows the old one.
    void take_if(const Expected<void>& ok, const QString& name, const Goal& tried);
    void say(const QString& problem);

    Session& session_;
    QComboBox *measured_, *goal_;
    QTableWidget *points_, *ranges_;
    QPushButton *add_point_, *remove_point_, *add_range_, *remove_range_, *new_goal_;
    QLabel* problem_;
    bool filling_ = false;
};

} // namespace syntonon
