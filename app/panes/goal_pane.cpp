// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/goal_pane.h"

#include "app/model/curve_commands.h"
#include "app/model/goal_commands.h"
#include "app/panes/goal/corridor_tab.h"
#include "app/panes/goal/requirements_tab.h"
#include "app/panes/goal/target_tab.h"
#include "app/panes/goal/weights_tab.h"
#include "app/widgets/tab_strip.h"
#include "app/widgets/theme.h"
#include "core/goal/goal_limits.h"

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>

namespace syntonon {

GoalPane::GoalPane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), measured_(new QComboBox), goal_(new QComboBox),
      level_text_(new QComboBox), more_(new QPushButton(tr("More…"))),
      make_(new QPushButton(tr("State a goal"))), no_goal_(new QWidget),
      tabs_(new TabStrip(TabStrip::Look::words)), pages_(new QStackedWidget),
      target_(new TargetTab(session)), corridor_(new CorridorTab(session)),
      requirements_(new RequirementsTab(session)), weights_(new WeightsTab(session)),
      problem_(new QLabel) {
    lay_out();
    connect(more_, &QPushButton::clicked, this,
            [this] { emit goal_menu_asked_for(more_->mapToGlobal(QPoint(0, more_->height()))); });
    connect(measured_, &QComboBox::activated, this, [this](int i) {
        // Several positions stay as they are when they are chosen again.
        if (const QVariant id = measured_->itemData(i); id.isValid()) {
            choose_measured(session_, id.toString());
        }
    });
    connect(goal_, &QComboBox::activated, this,
            [this](int i) { choose_goal(session_, goal_->itemData(i).toString()); });
    connect(tabs_, &TabStrip::chosen_by_user, this, &GoalPane::show_tab);
    connect(level_text_, &QComboBox::activated, this, [this](int index) {
        for (GoalTab* tab : std::initializer_list<GoalTab*>{target_, corridor_}) {
            tab->set_level_text(static_cast<LevelText>(index));
        }
        refresh();
    });
    connect(weights_, &WeightsTab::lane_wanted, this, &GoalPane::weight_lane_wanted);
    connect(&session_, &Session::study_changed, this, &GoalPane::refresh);
    connect(&session_, &Session::selection_changed, this, &GoalPane::refresh);
    refresh();
}

void GoalPane::lay_out() {
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(16, 8, 16, 8);
    grid->setVerticalSpacing(4);
    grid->setColumnStretch(1, 1);
    grid->addWidget(new QLabel(tr("Measured")), 0, 0);
    grid->addWidget(measured_, 0, 1);
    auto* import_button = new QPushButton(tr("Import…"));
    grid->addWidget(import_button, 0, 2);
    grid->addWidget(new QLabel(tr("Goal")), 1, 0);
    grid->addWidget(goal_, 1, 1);
    grid->addWidget(more_, 1, 2);
    auto* none = new QHBoxLayout(no_goal_);
    none->setContentsMargins(0, 4, 0, 4);
    auto* words = new QLabel(tr("No goal yet. What stands below is a proposal: the first change of "
                                "it makes it the goal."));
    words->setWordWrap(true);
    words->setForegroundRole(QPalette::PlaceholderText);
    none->addWidget(words, 1);
    none->addWidget(make_);
    grid->addWidget(no_goal_, 2, 0, 1, 3);
    connect(make_, &QPushButton::clicked, this, [this] { add_goal(session_); });
    auto* row = new QHBoxLayout;
    tabs_->set_tabs({tr("Target"), tr("Corridor"), tr("Requirements"), tr("Weights")});
    tabs_->setAccessibleName(tr("Parts of the goal"));
    level_text_->addItems({tr("dB"), tr("ratio")});
    level_text_->setAccessibleName(tr("Levels in"));
    level_text_->setToolTip(tr("Write levels in dB, or as a ratio with the decibels beside it"));
    row->addWidget(tabs_);
    row->addStretch(1);
    row->addWidget(level_text_);
    grid->addLayout(row, 3, 0, 1, 3);
    for (GoalTab* tab :
         std::initializer_list<GoalTab*>{target_, corridor_, requirements_, weights_}) {
        pages_->addWidget(tab);
        connect(tab, &GoalTab::problem_found, this, &GoalPane::say);
    }
    grid->addWidget(pages_, 4, 0, 1, 3);
    grid->setRowStretch(4, 1);
    problem_->setWordWrap(true);
    problem_->setObjectName("goal_problem");
    problem_->hide();
    grid->addWidget(problem_, 5, 0, 1, 3);
    for (QComboBox* box : {measured_, goal_}) { // long names must not widen the pane
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        box->setMinimumContentsLength(12);
    }
    measured_->setAccessibleName(tr("Measured curve"));
    goal_->setAccessibleName(tr("Goal"));
    connect(import_button, &QPushButton::clicked, this, &GoalPane::import_asked_for);
}

QTableWidget* GoalPane::target_table() const {
    return target_->points();
}

QTableWidget* GoalPane::corridor_table() const {
    return corridor_->table();
}

QString GoalPane::problem() const {
    return problem_->text();
}

void GoalPane::show_tab(int index) {
    tabs_->choose(index);
    pages_->setCurrentIndex(index);
    refresh();
}

void GoalPane::fill_choices() {
    const Channel* channel = session_.channel();
    const auto fill = [&](QComboBox* box, const auto& items, const std::string& chosen,
                          const QString& none) {
        box->clear();
        box->addItem(none, QString());
        for (const auto& item : items) {
            box->addItem(QString::fromStdString(item->name), QString::fromStdString(item->id));
        }
        int at = box->findData(QString::fromStdString(chosen));
        if (at < 0) { // a name of something that is not there stays visible
            box->addItem(tr("%1 (missing)").arg(QString::fromStdString(chosen)),
                         QString::fromStdString(chosen));
            at = box->count() - 1;
        }
        box->setCurrentIndex(at);
    };
    const MeasuredSet positions = channel != nullptr ? channel->measured : MeasuredSet();
    fill(measured_, session_.study().curves, positions.size() == 1 ? positions[0].curve : "",
         tr("none: the chain alone"));
    if (positions.size() > 1) {
        measured_->addItem(tr("%1 positions, averaged").arg(positions.size()));
        measured_->setCurrentIndex(measured_->count() - 1);
    }
    fill(goal_, session_.study().goals, channel != nullptr ? channel->goal : "", tr("none"));
    int sharing = 0;
    for (const auto& other : session_.study().channels) {
        sharing += channel != nullptr && !channel->goal.empty() && other->goal == channel->goal;
    }
    goal_->setToolTip(sharing > 1 ? tr("%1 channels share this goal").arg(sharing) : QString());
}

void GoalPane::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void GoalPane::refresh() {
    if (!isVisible()) {
        return; // filled when it is looked at
    }
    fill_choices();
    no_goal_->setVisible(session_.channel() != nullptr && session_.channel()->goal.empty());
    static_cast<GoalTab*>(pages_->currentWidget())->refresh_stated();
    say(standing_problem());
}

// What is wrong with the goal as it is.
QString GoalPane::standing_problem() const {
    const Goal* goal = current_goal(session_);
    const auto analysis = session_.analysis();
    if (goal == nullptr || analysis == nullptr || analysis->goal == nullptr) {
        return {};
    }
    if (const auto ok = check(*goal); !ok) {
        return QString::fromStdString(to_text(ok.error()));
    }
    if (!analysis->goal->level) {
        return QString::fromStdString(to_text(analysis->goal->level.error()));
    }
    if (const auto beyond = beyond_nyquist(*goal, session_.study().sample_rate_hz);
        !beyond.empty()) {
        return QString::fromStdString(to_text(beyond.front()));
    }
    if (!analysis->goal->contradictions.empty()) {
        return QString::fromStdString(to_text(analysis->goal->contradictions.front().problem));
    }
    return {};
}

void GoalPane::say(const QString& problem) {
    problem_->setText(problem);
    problem_->setVisible(!problem.isEmpty());
    QPalette colours = palette();
    colours.setColor(QPalette::WindowText, theme().not_met);
    problem_->setPalette(colours);
}

} // namespace syntonon
