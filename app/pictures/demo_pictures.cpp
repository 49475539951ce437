// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/pictures/demo_pictures.h"

#include "app/desks/listen_desk.h"
#include "app/desks/shape_desk.h"
#include "app/help/manual_window.h"
#include "app/main_window.h"
#include "app/panes/companion.h"
#include "app/panes/delay_line_pane.h"
#include "app/panes/fir/fir_page.h"
#include "app/panes/fir/phase_pane.h"
#include "app/panes/modelled/model_page.h"
#include "app/panes/rail.h"
#include "app/panes/roots/roots_pane.h"
#include "app/panes/sweep_bar.h"
#include "app/pictures/fit_pictures.h"
#include "app/pictures/photographer.h"
#include "app/pictures/study_pictures.h"
#include "app/plot/lane_stack.h"
#include "app/tour/tour.h"
#include "app/widgets/theme.h"
#include "core/study/kinds.h"

#include <QApplication>
#include <QEventLoop>
#include <QLabel>
#include <QScrollBar>
#include <QSpinBox>
#include <QTextBrowser>
#include <QTimer>
#include <algorithm>
#include <string_view>

namespace syntonon {
namespace {

void select_stage_at(Session& session, std::string_view channel, std::size_t stage) {
    select_channel_of(session, channel);
    const Chain& stages = session.channel()->stages;
    session.select_stage(stage < stages.size() ? stages[stage]->id : std::string());
}

// The parts of a goal, the comparison with takes, and a closer look at what is missed.
void take_goal_pictures(MainWindow& window, Photographer& photographer) {
    Session& session = window.session();
    window.show_takes();
    session.plumb().set_second(1236.0);
    photographer.take(window, "window-takes");
    session.plumb().set_second(std::nullopt);
    select_stage_at(session, "docent", 1);
    window.show_goal();
    window.show_working();
    wait_until([&] { return session.jobs().empty() && !session.is_judging(); });
    photographer.take(window, "window-working");
    select_stage_at(session, "sunrise", 1);
    window.show_verdict();
    for (const Finding& finding : session.analysis()->verdict) {
        if (finding.outcome == Outcome::not_met && finding.quantity == Quantity::level) {
            window.lanes()->magnify_finding(finding);
            break;
        }
    }
    photographer.take(window, "window-verdict");
    window.lanes()->zoom_home();
    select_stage_at(session, "zenith", 4);
    session.plumb().set(412.0);
}

void rest() {
    constexpr int long_enough_ms = 300;
    QEventLoop loop;
    QTimer::singleShot(long_enough_ms, &loop, &QEventLoop::quit);
    loop.exec();
}

// A ladder: what its curves cannot show, and played, each note in a voice of its own.
void take_model_pictures(MainWindow& window, Photographer& photographer) {
    Session& session = window.session();
    const auto plumb = session.plumb().hz();
    select_stage_at(session, "aurora", 0);
    session.plumb().set(420);
    window.show_shape_page(ShapeDesk::model);
    const auto& page = dynamic_cast<ModelPage&>(*window.upper()->page(ShapeDesk::model));
    wait_until([&] { return !page.is_busy(); });
    photographer.take(window, "window-model");
    window.show_desk(Desk::listen);
    window.listen().voices();
    window.listen().show_levels();
    wait_until([&] { return !window.listen().is_busy(); });
    photographer.take(window, "desk-voices");
    window.listen().lower()->show_page(0);
    window.show_desk(Desk::shape);
    window.show_shape_page(ShapeDesk::roots);
    session.plumb().set(plumb);
}

// The channel that branches and returns: its loop.
void take_network_picture(MainWindow& window, Photographer& photographer) {
    Session& session = window.session();
    select_channel_of(session, "aurora");
    std::string loop;
    visit_stages(session.channel()->stages, [&](const Stage& stage, const Slot&, int) {
        loop = kind_of(stage.spec) == LoopSpec::kind ? stage.id : loop;
    });
    const auto plumb = session.plumb().hz();
    session.plumb().set({});
    session.select_stage(loop);
    window.show_shape_page(ShapeDesk::network);
    window.lower()->show_page(ShapeDesk::delay_line);
    window.findChild<DelayLinePane*>()->sample()->setValue(5);
    const QLabel& facts = *window.findChild<Rail*>()->identities(); // come when the hand rests
    wait_until([&] { return facts.isVisible() && !facts.text().isEmpty(); });
    photographer.take(window, "window-network-page");
    window.show_shape_page(ShapeDesk::roots);
    window.lower()->show_page(ShapeDesk::impulse);
    session.plumb().set(plumb);
}

// The filter before the converters, in the s-plane, and how its order was found.
void take_analog_picture(MainWindow& window, Photographer& photographer) {
    Session& session = window.session();
    const auto plumb = session.plumb().hz();
    select_stage_at(session, "plenum", 0);
    session.plumb().set(23000);
    window.lower()->show_page(1);
    rest();
    photographer.take(window, "window-analog");
    window.lower()->show_page(0);
    session.plumb().set(plumb);
}

// A pole in hand, its relief, the roots on the lanes' axis and a number on the knob.
void take_roots_picture(MainWindow& window, Photographer& photographer) {
    Session& session = window.session();
    select_stage_at(session, "docent", 2);
    const std::string id = session.selection().stage;
    const auto plumb = session.plumb().hz();
    session.plumb().set(2500);
    const LaneView before = window.lanes()->view();
    LaneView with_roots = before;
    with_roots.show(Lane::roots, true);
    window.lanes()->change_view(with_roots);
    RootsPane& pane = *window.shape().roots_pane();
    pane.show_relief({true, true, true, false});
    session.roots_in_hand().hold({{id, {true, 0}}});
    window.shape().show_sweep_bar(true);
    window.shape().sweep_bar()->sweep().take(id, "pole_radius[0]");
    window.lower()->show_page(ShapeDesk::text);
    rest();
    photographer.take(window, "window-roots");
    window.shape().show_sweep_bar(false);
    pane.show_relief({});
    window.lanes()->change_view(before);
    window.lower()->show_page(ShapeDesk::impulse);
    session.plumb().set(plumb);
}

// The chain of the take that stands as one FIR, and what another phase would cost; taken back
// afterwards.
void take_fir_picture(MainWindow& window, Photographer& photographer) {
    Session& session = window.session();
    select_channel_of(session, "zenith");
    const auto plumb = session.plumb().hz();
    session.edit_channel(QStringLiteral("one FIR"),
                         [](Channel& channel) { channel.stages = channel.takes.back()->stages; });
    wait_until([&] { return session.jobs().empty(); });
    session.select_stage(session.channel()->stages.back()->id);
    session.plumb().set(63);
    window.show_working();
    window.lower()->show_page(ShapeDesk::fir);
    auto& page = dynamic_cast<FirPage&>(*window.lower()->page(ShapeDesk::fir));
    page.pages()->show_page(FirPage::phases);
    wait_until([&] { return page.phase_pane()->is_ready(); });
    photographer.take(window, "window-fir");
    session.history().undo();
    window.show_shape_page(ShapeDesk::roots);
    window.lower()->show_page(ShapeDesk::impulse);
    session.plumb().set(plumb);
}

// With the manual beside it, at the page of the selected stage.
void take_night_picture(MainWindow& window, Photographer& photographer) {
    ManualWindow manual;
    manual.resize(760, window.height());
    manual.show_spot({QStringLiteral("chain"), {}});
    manual.show();
    // Its pictures take the window's width a moment later.
    wait_until([&] { return manual.page()->horizontalScrollBar()->maximum() == 0; });
    photographer.take_both(window, manual, "window-night");
}

// The first hour, on a large screen: in a window of its own, since it begins with the demo.
void take_tour_picture(Photographer& photographer) {
    constexpr int step = 9;
    MainWindow window;
    window.resize(1920, 1080);
    window.show();
    Tour tour(window);
    tour.go_to(step);
    wait_until([&] { return window.session().jobs().empty(); });
    photographer.take(window, "window-large");
    window.session().mark_saved();
    window.files().close();
}

} // namespace

void take_demo_pictures(MainWindow& window, Photographer& photographer) {
    Session& session = window.session();
    select_stage_at(session, "zenith", 4);
    session.plumb().set(412.0);
    session.plumb().pin(true);
    photographer.take(window, "window-paper");
    window.show_goal();
    photographer.take(window, "window-goal");
    take_goal_pictures(window, photographer);
    window.upper()->show_page(0);
    window.lower()->show_page(0);
    take_fit_pictures(window, photographer);
    take_model_pictures(window, photographer);
    take_network_picture(window, photographer);
    take_analog_picture(window, photographer);
    take_roots_picture(window, photographer);
    take_fir_picture(window, photographer);
    select_stage_at(session, "zenith", 4);
    use_theme(*qApp, ThemeName::night);
    take_night_picture(window, photographer);
    use_theme(*qApp, ThemeName::paper);
    take_desk_pictures(window, photographer);
    take_tour_picture(photographer);
}

} // namespace syntonon
