// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/pictures/fit_pictures.h"

#include "app/desks/shape_desk.h"
#include "app/main_window.h"
#include "app/model/crossover_commands.h"
#include "app/model/stage_commands.h"
#include "app/panes/companion.h"
#include "app/panes/correction/correction_page.h"
#include "app/panes/crossover/crossover_page.h"
#include "app/panes/fitted/fitted_page.h"
#include "app/pictures/photographer.h"
#include "app/widgets/quantity_edit.h"
#include "core/study/fit_stages.h"
#include "core/study/kinds.h"

#include <QComboBox>
#include <QEventLoop>
#include <QPushButton>
#include <QTimer>
#include <algorithm>

namespace syntonon {

void select_channel_of(Session& session, std::string_view id) {
    const auto& channels = session.study().channels;
    const auto at = std::ranges::find(
        channels, id, [](const auto& channel) -> const std::string& { return channel->id; });
    session.select_channel(static_cast<int>(at - channels.begin()));
}

namespace {

void take_back(Session& session, int to) {
    while (session.history().index() > to) {
        session.history().undo();
    }
}

// Until it is known how a fit stands.
void settle() {
    constexpr int settling_ms = 300;
    QEventLoop waiting;
    QTimer::singleShot(settling_ms, &waiting, &QEventLoop::quit);
    waiting.exec();
}

void fit_anew(Session& session, const std::string& stage) {
    Briefs briefs;
    auto fitted = fitted_anew(session.study(), {{session.channel()->id, stage}}, briefs);
    if (fitted) {
        session.edit(QStringLiteral("Fit"), [&](Study& study) { study = *std::move(fitted); });
    }
    session.select_stage(stage);
}

// Sunrise, half done, with the rest left to a correction; the study is then as it was.
void take_correction_picture(MainWindow& window, Photographer& photographer) {
    Session& session = window.session();
    const int before = session.history().index();
    select_channel_of(session, "sunrise");
    Stage correction;
    correction.spec = CorrectionSpec();
    session.edit_channel(QStringLiteral("Correct"), [&](Channel& channel) {
        give_fresh_ids(correction, channel.stages);
        channel.stages.emplace_back(correction);
    });
    fit_anew(session, correction.id);
    session.part_in_hand().take(1);
    auto* page = static_cast<CorrectionPage*>(window.upper()->page(ShapeDesk::correction));
    window.upper()->show_page(ShapeDesk::correction);
    page->pages()->show_page(CorrectionPage::sections);
    settle();
    photographer.take(window, "window-correction");
    window.upper()->show_page(0);
    take_back(session, before);
}

// Sunset's measured set brought to its goal by a recursion, and what other orders would come to.
void take_recursive_picture(MainWindow& window, Photographer& photographer) {
    Session& session = window.session();
    const int before = session.history().index();
    select_channel_of(session, "sunset");
    FittedSpec spec;
    spec.order = 12;
    spec.from_hz = 40;
    spec.to_hz = 16'000;
    add_stage(session, spec);
    fit_anew(session, session.selection().stage);
    window.upper()->show_page(ShapeDesk::fitted);
    auto& page = static_cast<FittedPage&>(*window.upper()->page(ShapeDesk::fitted));
    page.try_orders()->click();
    wait_until([&] { return !page.is_busy(); });
    settle();
    photographer.take(window, "window-fit");
    window.upper()->show_page(0);
    take_back(session, before);
}

// Three ways in channels of their own, one above the other, heard from above.
void take_crossover_picture(MainWindow& window, Photographer& photographer) {
    Session& session = window.session();
    const int before = session.history().index();
    select_channel_of(session, "docent");
    session.edit_channel(QStringLiteral("Empty"), [](Channel& channel) {
        channel.stages.clear();
        channel.goal.clear();
        channel.name = "Mid";
    });
    CrossoverSpec spec;
    spec.frequencies_hz = {300, 2400};
    spec.way = 2;
    add_stage(session, spec);
    give_way(session, 1, {});
    give_way(session, 3, {});
    window.upper()->show_page(ShapeDesk::crossover);
    auto& page = static_cast<CrossoverPage&>(*window.upper()->page(ShapeDesk::crossover));
    const auto asking = *selected_way(session);
    const auto ways = ways_around(session.study(), asking);
    set_height(session, *ways[0], -0.35);
    set_height(session, *ways[2], 0.15);
    page.look_from(15);
    photographer.take(window, "window-crossover");
    page.look_from(0);
    window.upper()->show_page(0);
    take_back(session, before);
}

} // namespace

void take_fit_pictures(MainWindow& window, Photographer& photographer) {
    take_correction_picture(window, photographer);
    take_recursive_picture(window, photographer);
    take_crossover_picture(window, photographer);
}

} // namespace syntonon
