// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/desks/shape_desk.h"

#include "app/panes/companion.h"
#include "app/panes/goal/weights_tab.h"
#include "app/panes/goal_pane.h"
#include "app/panes/numbers_pane.h"
#include "app/panes/rail.h"
#include "app/panes/roots_pane.h"
#include "app/panes/start_page.h"
#include "app/panes/takes_pane.h"
#include "app/panes/time_pane.h"
#include "app/panes/verdict_pane.h"
#include "app/panes/working_pane.h"
#include "app/plot/lane_stack.h"

#include <QCheckBox>
#include <QStackedWidget>

namespace syntonon {

QStringList ShapeDesk::upper_words() {
    return {tr("Roots"), tr("Numbers"), tr("Goal"), tr("Takes"), tr("Verdict"), tr("Working")};
}

QStringList ShapeDesk::lower_words() {
    return {tr("Impulse"), tr("Step"), tr("Decay")};
}

ShapeDesk::ShapeDesk(Session& session, Rail* rail, QObject* parent)
    : QObject(parent), rail_(rail), lanes_(new LaneStack(session)), start_(new StartPage),
      middle_(new QStackedWidget), upper_(new Companion(tr("Upper companion"))),
      lower_(new Companion(tr("Lower companion"))), goal_pane_(new GoalPane(session)),
      takes_pane_(new TakesPane(session)), verdict_pane_(new VerdictPane(session)),
      working_pane_(new WorkingPane(session)) {
    const QList<QWidget*> pages{
        new RootsPane(session), new NumbersPane(session), goal_pane_, takes_pane_, verdict_pane_,
        working_pane_};
    for (int page = 0; page < pages.size(); ++page) {
        upper_->add_page(upper_words().at(page), pages.at(page));
    }
    auto* time = new TimePane(session);
    for (const QString& word : lower_words()) {
        lower_->add_page(word, time);
    }
    connect(lower_, &Companion::page_shown, time,
            [time](int page) { time->show_view(static_cast<TimeView>(page)); });
    connect(verdict_pane_, &VerdictPane::finding_chosen, lanes_, &LaneStack::magnify_finding);
    middle_->addWidget(lanes_);
    middle_->addWidget(start_);
    connect_goal();
}

void ShapeDesk::show_start_page(bool shown) {
    middle_->setCurrentWidget(shown ? static_cast<QWidget*>(start_) : lanes_);
}

bool ShapeDesk::shows_start_page() const {
    return middle_->currentWidget() == start_;
}

void ShapeDesk::connect_goal() {
    connect(lanes_, &LaneStack::goal_asked_for, this, [this] { upper_->show_page(goal); });
    connect(goal_pane_, &GoalPane::weight_lane_wanted, this, [this](bool shown) {
        LaneView view = lanes_->view();
        view.show(Lane::weight, shown);
        lanes_->change_view(view);
    });
    connect(lanes_, &LaneStack::view_changed, this, [this] {
        const QSignalBlocker blocker(goal_pane_->weights_tab()->lane_shown());
        goal_pane_->weights_tab()->lane_shown()->setChecked(lanes_->view().shows(Lane::weight));
    });
    connect(upper_, &Companion::page_shown, this,
            [this](int page) { lanes_->set_goal_editing(page == goal); });
}

DeskParts ShapeDesk::parts() const {
    DeskParts parts;
    parts.left = rail_;
    parts.middle = middle_;
    parts.upper = upper_;
    parts.lower = lower_;
    parts.trims = true;
    return parts;
}

} // namespace syntonon
