// Every desk, page, tab and panel of a window, one after the other.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/desks/shape_desk.h"
#include "app/main_window.h"
#include "app/model/stage_commands.h"
#include "app/panes/companion.h"
#include "app/panes/goal_pane.h"
#include "app/panes/trim/new_stages.h"

#include <QTest>
#include <functional>
#include <string>

namespace syntonon::test {

using VisitView = std::function<void(const std::string& where)>;

inline void each_desk(MainWindow& window, const VisitView& visit) {
    for (const Desk desk : all_desks) {
        window.show_desk(desk);
        QTest::qWait(20);
        visit(title_of(desk).toStdString());
    }
}

inline void each_page_of_shape(MainWindow& window, const VisitView& visit) {
    window.show_desk(Desk::shape);
    for (int page = 0; page < static_cast<int>(ShapeDesk::upper_words().size()); ++page) {
        window.upper()->show_page(page);
        visit(ShapeDesk::upper_words().at(page).toStdString());
    }
    for (int page = 0; page < static_cast<int>(ShapeDesk::lower_words().size()); ++page) {
        window.lower()->show_page(page);
        visit(ShapeDesk::lower_words().at(page).toStdString());
    }
    window.shape().show_sweep_bar(true);
    visit("the knob");
    window.shape().show_ways_bar(true);
    visit("all methods");
    window.shape().show_ways_bar(false);
}

inline void each_tab_of_the_goal(MainWindow& window, const VisitView& visit) {
    constexpr int tabs = 4;
    window.show_goal();
    for (int tab = 0; tab < tabs; ++tab) {
        window.goal_pane()->show_tab(tab);
        visit("tab " + std::to_string(tab) + " of the goal");
    }
}

// One stage of each kind that is offered, alone in the selected channel's chain.
inline void each_kind_of_stage(MainWindow& window, const VisitView& visit) {
    for (const NewStage& offer : new_stages()) {
        add_stage(window.session(), offer.spec);
        visit(offer.title.toStdString());
        remove_stage(window.session(), window.session().selection().stage);
    }
}

} // namespace syntonon::test
