// What one does to stages.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/menus/menus.h"

#include "app/desks/shape_desk.h"
#include "app/menus/menu_parts.h"
#include "app/model/root_commands.h"
#include "app/model/stage_commands.h"
#include "app/panes/rail.h"
#include "app/panes/roots/roots_pane.h"
#include "app/panes/trim/new_stages.h"
#include "app/plot/lane_stack.h"
#include "core/study/starting_points.h"

#include <QPushButton>

namespace syntonon {
namespace {

// Works only while rail or lanes have the focus, so that text and tables keep their keys.
void only_on_rail_and_lanes(QAction* action, MainWindow& window) {
    action->setShortcutContext(Qt::WidgetWithChildrenShortcut);
    window.rail()->addAction(action);
    window.lanes()->addAction(action);
}

// There, and while the roots have it.
void only_where_one_shapes(QAction* action, MainWindow& window) {
    only_on_rail_and_lanes(action, window);
    window.shape().roots_pane()->addAction(action);
}

void fill_openings(QMenu& menu, MainWindow& window) {
    for (const auto& [title, as] : {std::pair{tr("Roots"), OpenedAs::roots},
                                    {tr("Coefficients of a recursion"), OpenedAs::recursion},
                                    {tr("Sections"), OpenedAs::sections},
                                    {tr("Taps"), OpenedAs::taps},
                                    {tr("A pair of all-passes"), OpenedAs::all_pass_pair}}) {
        QAction* action = menu.addAction(title);
        action->setEnabled(window.session().stage() != nullptr);
        QObject::connect(action, &QAction::triggered, &window, [&window, as = as] {
            Session& session = window.session();
            const auto words = open_stage(session, session.selection().stage, as);
            window.message()->show_message(
                words ? MessageKind::note : MessageKind::problem,
                words ? *words : QString::fromStdString(to_text(words.error())),
                words ? std::vector<MessageBar::Choice>{{tr("Undo"),
                                                         [&session] { session.history().undo(); }}}
                      : std::vector<MessageBar::Choice>());
        });
    }
}

void fill_copy_targets(QMenu& menu, MainWindow& window) {
    menu.clear();
    Session& session = window.session();
    for (int i = 0; i < static_cast<int>(session.study().channels.size()); ++i) {
        QAction* action = menu.addAction(
            QString::fromStdString(session.study().channels[static_cast<std::size_t>(i)]->name));
        action->setEnabled(i != session.selection().channel);
        QObject::connect(action, &QAction::triggered, &window,
                         [&session, i] { copy_stage_to(session, session.selection().stage, i); });
    }
}

void fill_new_stages_part(QMenu& menu, MainWindow& window) {
    Session& session = window.session();
    QMenu* adds = menu.addMenu(tr("Add"));
    fill_with_new_stages(*adds, &window,
                         [&session](const StageSpec& spec) { add_stage(session, spec); });
    QMenu* networks = menu.addMenu(tr("Add a network"));
    for (const StartingPoint& point : starting_points()) {
        const QString title = QString::fromStdString(point.title);
        add(*networks, title, {}, &window, [&session, title, stages = point.stages] {
            add_stages(session, title, stages);
        })->setToolTip(QString::fromStdString(point.words));
    }
    networks->setToolTipsVisible(true);
    add(menu, tr("Add…"), QKeySequence("Insert"), &window,
        [&window] { window.rail()->add_button()->showMenu(); });
    add(menu, tr("Add from a file…"), {}, &window, [&window] { window.ask_add_stage_from_file(); });
    add(menu, tr("Paste coefficients…"), {}, &window, [&window] { window.paste_stage(); });
}

void fill_roots_part(QMenu& menu, MainWindow& window) {
    add_filled(menu, tr("Open into"), [&window](QMenu& sub) {
        sub.clear();
        fill_openings(sub, window);
    });
    only_where_one_shapes(add(menu, tr("Back to the last stable place"),
                              QKeySequence("Shift+Backspace"), &window,
                              [&window] { say(window, window.last_stable().bring_back()); }),
                          window);
    add(menu, tr("Reflect unstable poles inside"), QKeySequence("Alt+I"), &window,
        [&window] { say(window, reflect_poles_inside(window.session())); });
}

void fill_fir_of_chain(QMenu& menu, MainWindow& window) {
    const auto offer = [&](const QString& title, FirPlace place, FirPhase phase) {
        add(menu, title, {}, &window, [&window, place, phase] {
            if (window.session().axis().is_analog()) {
                window.say_problem({"",
                                    "an FIR filter is a row of samples, and the channel is "
                                    "analog",
                                    "map it into a sampled one (Channel menu)"});
                return;
            }
            add_fir_of_chain(window.session(), place, phase);
        });
    };
    offer(tr("In its place, linear phase"), FirPlace::here, FirPhase::linear);
    offer(tr("In its place, minimum phase"), FirPlace::here, FirPhase::minimum);
    offer(tr("In its place, its own impulse response"), FirPlace::here, FirPhase::as_made);
    offer(tr("In a new channel, linear phase"), FirPlace::new_channel, FirPhase::linear);
    offer(tr("In a new channel, its own impulse response"), FirPlace::new_channel,
          FirPhase::as_made);
}

QList<QAction*> add_stage_moves(QMenu& menu, MainWindow& window) {
    Session& session = window.session();
    const auto move = [&](const QString& title, const char* keys,
                          void (*by)(Session&, std::string, int), int way) {
        return add(menu, title, QKeySequence(keys), &window,
                   [&session, by, way] { by(session, session.selection().stage, way); });
    };
    return {move(tr("Move up"), "Alt+Up", shift_stage, -1),
            move(tr("Move down"), "Alt+Down", shift_stage, 1),
            move(tr("Move into the next branch"), "Alt+Shift+Right", shift_stage_aside, 1),
            move(tr("Move into the branch before"), "Alt+Shift+Left", shift_stage_aside, -1)};
}

} // namespace

void fill_stage_menu(QMenu& menu, MainWindow& window) {
    Session& session = window.session();
    const auto selected = [&session] { return session.selection().stage; };
    fill_new_stages_part(menu, window);
    QAction* duplicate = add(menu, tr("Duplicate"), QKeySequence("Ctrl+Insert"), &window,
                             [&session, selected] { duplicate_stage(session, selected()); });
    QAction* rename = add(menu, tr("Rename…"), QKeySequence("F2"), &window,
                          [&window] { window.rename_selected_stage(); });
    QAction* toggle =
        add(menu, tr("Switch on or off"), QKeySequence("Space"), &window, [&session, selected] {
            if (session.stage() != nullptr) {
                switch_stage(session, selected(), !session.stage()->enabled);
            }
        });
    only_on_rail_and_lanes(toggle, window);
    QMenu* copy = menu.addMenu(tr("Copy to channel"));
    QObject::connect(copy, &QMenu::aboutToShow, &window,
                     [copy, &window] { fill_copy_targets(*copy, window); });
    QAction* remove = add(menu, tr("Remove"), QKeySequence("Delete"), &window,
                          [&session, selected] { remove_stage(session, selected()); });
    only_on_rail_and_lanes(remove, window);
    QAction* save =
        add(menu, tr("Save as a file…"), {}, &window, [&window] { window.ask_save_stage(); });
    menu.addSeparator();
    fill_roots_part(menu, window);
    fill_fir_of_chain(*menu.addMenu(tr("One FIR of the chain")), window);
    menu.addSeparator();
    const QList<QAction*> moves = add_stage_moves(menu, window);
    menu.addSeparator();
    add(menu, tr("Next stage"), QKeySequence("Ctrl+Down"), &window,
        [&session] { select_neighbour(session, 1); });
    add(menu, tr("Previous stage"), QKeySequence("Ctrl+Up"), &window,
        [&session] { select_neighbour(session, -1); });
    QObject::connect(&menu, &QMenu::aboutToShow, &window, [=, &session] {
        for (QAction* needs_stage :
             QList<QAction*>{duplicate, rename, toggle, remove, save, copy->menuAction()} + moves) {
            needs_stage->setEnabled(session.stage() != nullptr);
        }
    });
    // A disabled action would not answer its shortcut when the menu has been closed again.
    QObject::connect(&menu, &QMenu::aboutToHide, &window, [=] {
        for (QAction* action : QList<QAction*>{duplicate, rename, toggle, remove, save} + moves) {
            QMetaObject::invokeMethod(
                action, [action] { action->setEnabled(true); }, Qt::QueuedConnection);
        }
    });
}

} // namespace syntonon
