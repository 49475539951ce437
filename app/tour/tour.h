// The first hour: a panel that leads through the window, step by step, and can be left at any.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/tour/tour_steps.h"

#include <QFrame>
#include <QTimer>

class QLabel;
class QPushButton;

namespace syntonon {

// Says a step and rings its place. It lies over the window, in the corner that covers least of the
// place.
class Tour : public QFrame {
    Q_OBJECT

public:
    explicit Tour(MainWindow& window);
    ~Tour() override;

    int step() const { return step_; }
    int count() const { return static_cast<int>(steps_.size()); }
    bool is_done() const; // what the step asks for; true where it asks for nothing
    void go_to(int step);
    void leave();

    QPushButton* back_button() const { return back_; }
    QPushButton* show_button() const { return show_; }
    QPushButton* next_button() const { return next_; }
    QPushButton* leave_button() const { return leave_; }

protected:
    bool eventFilter(QObject* watched, QEvent* event) override; // of the window

private:
    void show_step();
    void look(); // whether it is done, and where its place is now
    void place_panel(const QRect& ringed);

    MainWindow& window_;
    QList<TourStep> steps_;
    int step_ = 0;
    bool was_done_ = false;
    QWidget* ring_;
    QLabel *number_, *title_, *text_, *state_;
    QPushButton *back_, *show_, *next_, *leave_;
    QTimer looking_;
};

// Settings, recovery, records and deliveries of a tour are kept in a folder that vanishes with the
// program, so that nothing of the user's is touched. Before there is an application object; true
// where there is such a folder.
bool use_home_of_tour();

// The tour in a program of its own.
void start_tour_beside();

} // namespace syntonon
