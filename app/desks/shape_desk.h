// The desk where a chain is shaped: rail, lanes with grips, roots, numbers, goal, takes, verdict.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/desks/desk_frame.h"
#include "app/model/session.h"

#include <QObject>

class QStackedWidget;

namespace syntonon {

class GoalPane;
class LaneStack;
class StartPage;
class Rail;
class RootsPane;
class SweepBar;
class TakesPane;
class VerdictPane;
class WaysBar;
class WorkingPane;

class ShapeDesk : public QObject {
    Q_OBJECT

public:
    // Pages of the upper companion.
    enum Page {
        roots,
        numbers,
        goal,
        takes,
        verdict,
        working,
        network,
        correction,
        fitted,
        crossover,
        model
    };

    // And of the lower one.
    enum LowerPage { impulse, step, decay, table, delay_line, text, fir };

    ShapeDesk(Session& session, Rail* rail, QObject* parent = nullptr);

    DeskParts parts() const;
    LaneStack* lanes() const { return lanes_; }
    StartPage* start_page() const { return start_; }
    void show_start_page(bool shown); // in the lanes' place
    bool shows_start_page() const;
    Companion* upper() const { return upper_; }
    Companion* lower() const { return lower_; }
    GoalPane* goal_pane(); // made when it is first shown or asked for
    TakesPane* takes_pane() const { return takes_pane_; }
    VerdictPane* verdict_pane() const { return verdict_pane_; }
    WorkingPane* working_pane() const { return working_pane_; }
    RootsPane* roots_pane() const { return roots_pane_; }
    SweepBar* sweep_bar() const { return sweep_bar_; } // under the lanes, while it is wanted
    void show_sweep_bar(bool shown);
    WaysBar* ways_bar() const { return ways_bar_; } // in the same place
    void show_ways_bar(bool shown);
    void show_weight_lane(bool shown);

    static QStringList upper_words();
    static QStringList lower_words();

signals:
    void goal_pane_made(GoalPane* pane);

private:
    void add_lower_pages(Session& session);
    GoalPane* make_goal_pane(Session& session);
    void connect_goal(GoalPane* pane);

    Rail* rail_;
    LaneStack* lanes_;
    StartPage* start_;
    QStackedWidget* middle_;
    Companion *upper_, *lower_;
    TakesPane* takes_pane_;
    VerdictPane* verdict_pane_;
    WorkingPane* working_pane_;
    RootsPane* roots_pane_;
    QWidget* lanes_and_knob_;
    SweepBar* sweep_bar_;
    WaysBar* ways_bar_;
};

} // namespace syntonon
