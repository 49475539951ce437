// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/pictures/low_pass_pictures.h"

#include "app/desks/shape_desk.h"
#include "app/main_window.h"
#include "app/model/take_commands.h"
#include "app/panes/companion.h"
#include "app/panes/fir/fir_page.h"
#include "app/panes/fir/weights_pane.h"
#include "app/panes/ways_bar.h"
#include "app/pictures/photographer.h"
#include "app/plot/lane_stack.h"

#include <QPushButton>

namespace syntonon {
namespace {

FirPage& show_fir_page(MainWindow& window, FirPage::Page page) {
    window.lower()->show_page(ShapeDesk::fir);
    auto& pages = dynamic_cast<FirPage&>(*window.lower()->page(ShapeDesk::fir));
    pages.pages()->show_page(page);
    return pages;
}

// The chain of one of the takes, its stage in hand.
void take_up(MainWindow& window, int take) {
    Session& session = window.session();
    restore_take(session, take);
    wait_until([&] { return session.jobs().empty(); });
    session.select_stage(session.channel()->stages.front()->id);
}

} // namespace

void take_low_pass_pictures(MainWindow& window, Photographer& photographer) {
    Session& session = window.session();
    enum Takes { equiripple, drawn };
    show_all_takes(session, false);
    window.lanes()->change_range(Lane::magnitude, {-90, 10, 20});
    LaneView linear = window.lanes()->view();
    linear.linear_frequency = true; // the lobes of the stopband side by side
    linear.show(Lane::phase, false);
    window.lanes()->change_view(linear);
    window.show_verdict();
    take_up(window, equiripple);
    show_fir_page(window, FirPage::bands);
    photographer.take(window, "1-equiripple");

    take_up(window, drawn);
    LaneView weighted = linear;
    weighted.show(Lane::weight, true);
    window.lanes()->change_view(weighted);
    WeightsPane& weights = *show_fir_page(window, FirPage::weights).weights_pane();
    photographer.take(window, "2-drawn-weights");

    take_up(window, equiripple);
    weights.hug_button()->click();
    wait_until([&] { return !weights.is_busy() && session.jobs().empty(); });
    photographer.take(window, "3-hugged");

    window.lanes()->change_view(linear);
    window.shape().show_ways_bar(true);
    WaysBar& ways = *window.shape().ways_bar();
    ways.find();
    wait_until([&] { return !ways.finder().is_busy(); });
    photographer.take(window, "4-all-methods");
    window.shape().show_ways_bar(false);
}

} // namespace syntonon
