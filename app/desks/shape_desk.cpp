// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/desks/shape_desk.h"

#include "app/panes/companion.h"
#include "app/panes/correction/correction_page.h"
#include "app/panes/crossover/crossover_page.h"
#include "app/panes/delay_line_pane.h"
#include "app/panes/fir/fir_page.h"
#include "app/panes/fitted/fitted_page.h"
#include "app/panes/goal/weights_tab.h"
#include "app/panes/goal_pane.h"
#include "app/panes/modelled/model_page.h"
#include "app/panes/network_pane.h"
#include "app/panes/numbers_pane.h"
#include "app/panes/rail.h"
#include "app/panes/roots/roots_pane.h"
#include "app/panes/start_page.h"
#include "app/panes/sweep_bar.h"
#include "app/panes/takes_pane.h"
#include "app/panes/text_pane.h"
#include "app/panes/time_pane.h"
#include "app/panes/time_table.h"
#include "app/panes/verdict_pane.h"
#include "app/panes/ways_bar.h"
#include "app/panes/working_pane.h"
#include "app/plot/lane_stack.h"

#include <QCheckBox>
#include <QStackedWidget>
#include <QVBoxLayout>

namespace syntonon {

QStringList ShapeDesk::upper_words() {
    return {tr("Roots"),   tr("Numbers"),   tr("Goal"),    tr("Takes"),
            tr("Verdict"), tr("Working"),   tr("Network"), tr("Correction"),
            tr("Fit"),     tr("Crossover"), tr("Model")};
}

QStringList ShapeDesk::lower_words() {
    return {tr("Impulse"),    tr("Step"), tr("Decay"), tr("Table"),
            tr("Delay line"), tr("Text"), tr("FIR")};
}

ShapeDesk::ShapeDesk(Session& session, Rail* rail, QObject* parent)
    : QObject(parent), rail_(rail), lanes_(new LaneStack(session)), start_(new StartPage),
      middle_(new QStackedWidget), upper_(new Companion(tr("Upper companion"))),
      lower_(new Companion(tr("Lower companion"))), takes_pane_(new TakesPane(session)),
      verdict_pane_(new VerdictPane(session)), working_pane_(new WorkingPane(session)),
      roots_pane_(new RootsPane(session)), lanes_and_knob_(new QWidget),
      sweep_bar_(new SweepBar(session, *lanes_)), ways_bar_(new WaysBar(session)) {
    const QStringList words = upper_words();
    upper_->add_page(words[roots], roots_pane_);
    upper_->add_page(words[numbers], new NumbersPane(session));
    upper_->add_page(words[goal], [this, &session] { return make_goal_pane(session); });
    upper_->add_page(words[takes], takes_pane_);
    upper_->add_page(words[verdict], verdict_pane_);
    upper_->add_page(words[working], working_pane_);
    upper_->add_page(words[network],
                     [this, &session] { return new NetworkPane(session, *lanes_); });
    upper_->add_page(words[correction], [&session] { return new CorrectionPage(session); });
    upper_->add_page(words[fitted], [&session] { return new FittedPage(session); });
    upper_->add_page(words[crossover], [&session] { return new CrossoverPage(session); });
    upper_->add_page(words[model], [&session] { return new ModelPage(session); });
    const auto tell_network = [this, &session] {
        // One of them at most: a word more would find no room.
        const bool has_own = CorrectionPage::is_there(session) || FittedPage::is_there(session)
                             || CrossoverPage::is_there(session) || ModelPage::is_there(session);
        upper_->set_page_there(correction, CorrectionPage::is_there(session));
        upper_->set_page_there(fitted, FittedPage::is_there(session));
        upper_->set_page_there(crossover, CrossoverPage::is_there(session));
        upper_->set_page_there(model, ModelPage::is_there(session));
        upper_->set_page_there(network, session.network() != nullptr && !has_own);
    };
    connect(&session, &Session::selection_changed, this, tell_network);
    connect(&session, &Session::analysis_changed, this, tell_network);
    tell_network();
    add_lower_pages(session);
    connect(verdict_pane_, &VerdictPane::finding_chosen, lanes_, &LaneStack::magnify_finding);
    auto* column = new QVBoxLayout(lanes_and_knob_);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(lanes_, 1);
    column->addWidget(sweep_bar_);
    sweep_bar_->hide();
    connect(sweep_bar_, &SweepBar::closed, this, [this] { show_sweep_bar(false); });
    column->addWidget(ways_bar_);
    ways_bar_->hide();
    connect(ways_bar_, &WaysBar::closed, this, [this] { show_ways_bar(false); });
    middle_->addWidget(lanes_and_knob_);
    middle_->addWidget(start_);
    connect(lanes_, &LaneStack::goal_asked_for, this, [this] { upper_->show_page(goal); });
    connect(upper_, &Companion::page_shown, this,
            [this](int page) { lanes_->set_goal_editing(page == goal); });
}

void ShapeDesk::add_lower_pages(Session& session) {
    auto* time = new TimePane(session);
    const QStringList below = lower_words();
    for (const int page : {impulse, step, decay}) {
        lower_->add_page(below[page], time);
    }
    lower_->add_page(below[table], [&session] { return new TimeTable(session); });
    lower_->add_page(below[delay_line], [&session] { return new DelayLinePane(session); });
    lower_->add_page(below[text], [&session] { return new TextPane(session); });
    lower_->add_page(below[fir], [this, &session] {
        auto* page = new FirPage(session);
        connect(page, &FirPage::weight_lane_wanted, this, [this] { show_weight_lane(true); });
        return page;
    });
    const auto tell_fir = [this, &session] {
        lower_->set_page_there(fir, FirPage::is_there(session));
    };
    connect(&session, &Session::selection_changed, this, tell_fir);
    connect(&session, &Session::analysis_changed, this, tell_fir);
    tell_fir();
    connect(&session, &Session::stage_added, this, [this, &session] {
        if (FirPage::is_there(session)) { // where one goes on with a new one
            lower_->show_page(fir);
        } else if (CorrectionPage::is_there(session)) {
            upper_->show_page(correction);
        } else if (FittedPage::is_there(session)) {
            upper_->show_page(fitted);
        } else if (CrossoverPage::is_there(session)) {
            upper_->show_page(crossover);
        } else if (ModelPage::is_there(session)) {
            upper_->show_page(model);
        }
    });
    connect(lower_, &Companion::page_shown, time, [time](int page) {
        if (page <= decay) {
            time->show_view(static_cast<TimeView>(page));
        }
    });
}

void ShapeDesk::show_start_page(bool shown) {
    middle_->setCurrentWidget(shown ? static_cast<QWidget*>(start_) : lanes_and_knob_);
}

void ShapeDesk::show_sweep_bar(bool shown) {
    sweep_bar_->setVisible(shown);
    ways_bar_->setVisible(ways_bar_->isVisible() && !shown);
}

void ShapeDesk::show_ways_bar(bool shown) {
    ways_bar_->setVisible(shown);
    sweep_bar_->setVisible(sweep_bar_->isVisible() && !shown);
}

bool ShapeDesk::shows_start_page() const {
    return middle_->currentWidget() == start_;
}

GoalPane* ShapeDesk::goal_pane() {
    return static_cast<GoalPane*>(upper_->page(goal));
}

GoalPane* ShapeDesk::make_goal_pane(Session& session) {
    auto* pane = new GoalPane(session);
    connect_goal(pane);
    emit goal_pane_made(pane);
    return pane;
}

void ShapeDesk::connect_goal(GoalPane* pane) {
    connect(pane, &GoalPane::weight_lane_wanted, this, &ShapeDesk::show_weight_lane);
    const auto tell_lane = [this, box = pane->weights_tab()->lane_shown()] {
        const QSignalBlocker blocker(box);
        box->setChecked(lanes_->view().shows(Lane::weight));
    };
    connect(lanes_, &LaneStack::view_changed, pane, tell_lane);
    tell_lane();
}

void ShapeDesk::show_weight_lane(bool shown) {
    LaneView view = lanes_->view();
    view.show(Lane::weight, shown);
    lanes_->change_view(view);
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
