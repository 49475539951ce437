// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/menus/menus.h"

#include "app/desks/shape_desk.h"
#include "app/dialogs/analog_file.h"
#include "app/main_window.h"
#include "app/model/analog_commands.h"
#include "app/model/curve_commands.h"
#include "app/model/goal_commands.h"
#include "app/model/root_commands.h"
#include "app/model/stage_commands.h"
#include "app/model/take_commands.h"
#include "app/model/target_commands.h"
#include "app/panes/companion.h"
#include "app/panes/rail.h"
#include "app/panes/roots/roots_pane.h"
#include "app/panes/stage_card.h"
#include "app/panes/sweep_bar.h"
#include "app/panes/trim/new_stages.h"
#include "app/panes/trim_strip.h"
#include "app/panes/ways_bar.h"
#include "app/plot/lane_menus.h"
#include "app/plot/lane_picture.h"
#include "app/plot/lane_stack.h"
#include "app/top_bar.h"
#include "app/widgets/colour_icon.h"
#include "app/widgets/message_bar.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/study/starting_points.h"

#include <QApplication>
#include <QClipboard>
#include <QColorDialog>
#include <QFileInfo>
#include <QMenuBar>
#include <QPushButton>
#include <QSettings>

namespace syntonon {
namespace {

template <class Action>
QAction* add(QMenu& menu, const QString& text, const QKeySequence& keys, QObject* context,
             Action action) {
    QAction* made = menu.addAction(text);
    made->setShortcut(keys);
    QObject::connect(made, &QAction::triggered, context, action);
    return made;
}

// A submenu that is filled anew each time it opens.
void add_filled(QMenu& menu, const QString& title, const std::function<void(QMenu&)>& fill) {
    QMenu* sub = menu.addMenu(title);
    QObject::connect(sub, &QMenu::aboutToShow, sub, [sub, fill] { fill(*sub); });
}

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
                                    {tr("Taps"), OpenedAs::taps}}) {
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

void fill_recent(QMenu& menu, MainWindow& window) {
    menu.clear();
    for (const QString& path : StudyFiles::recent()) {
        QAction* action =
            menu.addAction(QFileInfo(path).fileName() + "   " + QFileInfo(path).path());
        QObject::connect(action, &QAction::triggered, &window, [&window, path] {
            if (window.may_discard()) {
                window.open_study(path);
            }
        });
    }
    if (menu.isEmpty()) {
        menu.addAction(tr("none yet"))->setEnabled(false);
    }
}

bool is_analog_selected(MainWindow& window) {
    return window.session().axis().is_analog();
}

void say(MainWindow& window, const Expected<void>& done) {
    if (!done) {
        window.message()->show_message(MessageKind::problem,
                                       QString::fromStdString(to_text(done.error())));
    }
}

void fill_mappings(QMenu& menu, MainWindow& window) {
    for (const auto& mapping : names_of_mappings()) {
        QAction* action = menu.addAction(
            QString::fromUtf8(mapping.title.data(), static_cast<qsizetype>(mapping.title.size())));
        action->setEnabled(is_analog_selected(window));
        QObject::connect(action, &QAction::triggered, &window, [&window, value = mapping.value] {
            say(window, map_selected_channel(window.session(), value));
        });
    }
}

void fill_analog_formats(QMenu& menu, MainWindow& window) {
    const auto offer = [&](const QString& title, auto act) {
        QAction* action = menu.addAction(title);
        action->setEnabled(is_analog_selected(window));
        QObject::connect(action, &QAction::triggered, &window, act);
    };
    offer(tr("Copy as text"), [&window] {
        const auto text = analog_text_of_selected(window.session(), AnalogFormat::text);
        if (text) {
            QGuiApplication::clipboard()->setText(QString::fromStdString(*text));
        } else {
            say(window, tl::unexpected(text.error()));
        }
    });
    for (const auto& [title, format] : {std::pair{tr("As text…"), AnalogFormat::text},
                                        {tr("As CSV…"), AnalogFormat::csv},
                                        {tr("As JSON…"), AnalogFormat::json}}) {
        offer(title, [&window, format = format] {
            say(window, ask_export_analog(window.session(), format, &window));
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

} // namespace

void fill_menus(QMenuBar& bar, MainWindow& window) {
    fill_study_menu(*bar.addMenu(tr("&Study")), window);
    fill_edit_menu(*bar.addMenu(tr("&Edit")), window);
    fill_channel_menu(*bar.addMenu(tr("&Channel")), window);
    fill_stage_menu(*bar.addMenu(tr("S&tage")), window);
    fill_goal_menu(*bar.addMenu(tr("&Goal")), window);
    fill_takes_menu(*bar.addMenu(tr("Ta&kes")), window);
    fill_view_menu(*bar.addMenu(tr("&View")), window);
    fill_help_menu(*bar.addMenu(tr("&Help")), window, bar);
}

void fill_study_menu(QMenu& menu, MainWindow& window) {
    add(menu, tr("New"), QKeySequence::New, &window, [&window] { window.ask_new(); });
    add(menu, tr("Open…"), QKeySequence::Open, &window, [&window] { window.ask_open(); });
    QMenu* recent = menu.addMenu(tr("Recent"));
    QObject::connect(recent, &QMenu::aboutToShow, &window,
                     [recent, &window] { fill_recent(*recent, window); });
    menu.addSeparator();
    add(menu, tr("Save"), QKeySequence::Save, &window, [&window] { window.save(); });
    add(menu, tr("Save as…"), QKeySequence("Ctrl+Shift+S"), &window,
        [&window] { window.save_as(); });
    add(menu, tr("Unsaved work of earlier runs…"), {}, &window,
        [&window] { window.show_recovery_list(); });
    menu.addSeparator();
    add(menu, tr("Import a curve…"), QKeySequence("Ctrl+Shift+M"), &window,
        [&window] { window.ask_import(); });
    add(menu, tr("Export coefficients: the Deliver desk"), QKeySequence("Ctrl+Shift+X"), &window,
        [&window] { window.export_coefficients(); });
    menu.addSeparator();
    add(menu, tr("Save the lanes as a picture…"), QKeySequence("Ctrl+Shift+P"), &window,
        [&window] { window.ask_save_lanes({}); });
    add(menu, tr("Copy the lanes as a picture"), QKeySequence("Ctrl+Shift+C"), &window,
        [&window] { copy_lanes(*window.shown_lanes(), {}); });
    menu.addSeparator();
    add(menu, tr("Quit"), QKeySequence("Ctrl+Q"), &window, [&window] { window.close(); });
}

void fill_edit_menu(QMenu& menu, MainWindow& window) {
    QUndoStack& history = window.session().history();
    QAction* undo = history.createUndoAction(&window, tr("Undo"));
    undo->setShortcut(QKeySequence::Undo);
    QAction* redo = history.createRedoAction(&window, tr("Redo"));
    redo->setShortcut(QKeySequence("Ctrl+Shift+Z"));
    menu.addAction(undo);
    menu.addAction(redo);
    menu.addSeparator();
    add(menu, tr("History…"), QKeySequence("Ctrl+H"), &window,
        [&window] { window.show_history(); });
    QAction* saved = add(menu, tr("Back to as saved"), {}, &window,
                         [&window] { window.session().go_back_to_saved(); });
    QObject::connect(&menu, &QMenu::aboutToShow, &window, [saved, &window] {
        saved->setEnabled(window.session().differs_from_saved());
    });
}

void fill_channel_menu(QMenu& menu, MainWindow& window) {
    Session& session = window.session();
    add(menu, tr("Add a channel"), QKeySequence("Ctrl+Shift+Insert"), &window,
        [&session] { add_channel(session); });
    add(menu, tr("Add an analog channel"), {}, &window,
        [&session] { add_analog_channel(session); });
    add_filled(menu, tr("Map into a sampled channel"), [&window](QMenu& sub) {
        sub.clear();
        fill_mappings(sub, window);
    });
    add_filled(menu, tr("Hand out the analog filter"), [&window](QMenu& sub) {
        sub.clear();
        fill_analog_formats(sub, window);
    });
    add(menu, tr("Rename…"), QKeySequence("Shift+F2"), &window,
        [&window] { window.rename_selected_channel(); });
    add_filled(menu, tr("Colour"), [&window](QMenu& sub) {
        sub.clear();
        fill_channel_colours(sub, window);
    });
    QAction* remove = add(menu, tr("Remove"), {}, &window,
                          [&session] { remove_channel(session, session.selection().channel); });
    menu.addSeparator();
    add(menu, tr("All channels…"), QKeySequence("Ctrl+L"), &window,
        [&window] { window.top_bar()->open_channel_list(); });
    add(menu, tr("Next channel"), QKeySequence("Ctrl+PgDown"), &window,
        [&session] { session.select_channel(session.selection().channel + 1); });
    add(menu, tr("Previous channel"), QKeySequence("Ctrl+PgUp"), &window,
        [&session] { session.select_channel(session.selection().channel - 1); });
    QObject::connect(&menu, &QMenu::aboutToShow, &window, [remove, &session] {
        remove->setEnabled(session.study().channels.size() > 1);
    });
}

void fill_channel_actions(QMenu& menu, MainWindow& window) {
    Session& session = window.session();
    add(menu, tr("Rename…"), {}, &window, [&window] { window.rename_selected_channel(); });
    fill_channel_colours(*menu.addMenu(tr("Colour")), window);
    add(menu, tr("Remove"), {}, &window, [&session] {
        remove_channel(session, session.selection().channel);
    })->setEnabled(session.study().channels.size() > 1);
}

void fill_channel_colours(QMenu& menu, MainWindow& window) {
    Session& session = window.session();
    const auto offer = [&](const QString& text, const QColor& shown, const QString& colour) {
        QPixmap square(12, 12);
        square.fill(shown);
        QObject::connect(
            menu.addAction(QIcon(square), text), &QAction::triggered, &session,
            [&session, colour] { recolour_channel(session, session.selection().channel, colour); });
    };
    const QStringList names = channel_colour_names();
    for (int i = 0; i < names.size(); ++i) {
        const QColor colour = channel_colour({}, i);
        offer(names[i], colour, colour.name());
    }
    menu.addSeparator();
    offer(tr("By its place"), channel_colour({}, session.selection().channel), {});
    QObject::connect(
        menu.addAction(tr("Another…")), &QAction::triggered, &window, [&window, &session] {
            const QColor chosen =
                QColorDialog::getColor(Qt::white, &window, tr("Colour of the channel"));
            if (chosen.isValid()) {
                recolour_channel(session, session.selection().channel, chosen.name());
            }
        });
}

namespace {

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

void fill_goal_actions(QMenu& menu, MainWindow& window) {
    Session& session = window.session();
    const bool there = current_goal(session) != nullptr;
    add(menu, tr("New goal for this channel"), {}, &window, [&window, &session] {
        add_goal(session);
        window.show_goal();
    });
    for (QAction* needs_goal :
         {add(menu, tr("Rename…"), {}, &window, [&window] { window.rename_current_goal(); }),
          add(menu, tr("Duplicate for this channel"), {}, &window,
              [&session] { duplicate_goal(session); }),
          add(menu, tr("Remove from the study"), {}, &window,
              [&session] { remove_goal(session); })}) {
        needs_goal->setEnabled(there);
    }
    menu.addSeparator();
    add(menu, tr("Import a target…"), {}, &window, [&window] { window.import_target(); });
    add(menu, tr("Export the target…"), {}, &window, [&window] {
        window.export_target();
    })->setEnabled(there);
}

void fill_takes_menu(QMenu& menu, MainWindow& window) {
    Session& session = window.session();
    add(menu, tr("Freeze the chain as a take"), QKeySequence("F4"), &window,
        [&session] { freeze_take(session); });
    add(menu, tr("Show the takes"), QKeySequence("Shift+F4"), &window,
        [&window] { window.show_takes(); });
    menu.addSeparator();
    add(menu, tr("Show all on the lanes"), {}, &window,
        [&session] { show_all_takes(session, true); });
    add(menu, tr("Hide all"), {}, &window, [&session] { show_all_takes(session, false); });
    const auto each_take = [&](const QString& title, auto act) {
        add_filled(menu, title, [&session, act](QMenu& sub) {
            sub.clear();
            const Channel* channel = session.channel();
            for (int i = 0; channel != nullptr && i < static_cast<int>(channel->takes.size());
                 ++i) {
                const auto& take = channel->takes[static_cast<std::size_t>(i)];
                QObject::connect(sub.addAction(QString::fromStdString(take->name)),
                                 &QAction::triggered, &session,
                                 [&session, act, i] { act(session, i); });
            }
            if (sub.isEmpty()) {
                sub.addAction(tr("none yet"))->setEnabled(false);
            }
        });
    };
    each_take(tr("Show only"), show_only_take);
    each_take(tr("Restore"), restore_take);
    each_take(tr("Remove"), remove_take);
}

void fill_goal_menu(QMenu& menu, MainWindow& window) {
    Session& session = window.session();
    add(menu, tr("Show the goal"), QKeySequence("F9"), &window, [&window] { window.show_goal(); });
    add(menu, tr("Show the verdict of all channels"), QKeySequence("Shift+F9"), &window,
        [&window] { window.show_verdict(); });
    add(menu, tr("All methods for this goal"), QKeySequence("Ctrl+M"), &window, [&window] {
        window.show_desk(Desk::shape);
        window.shape().show_ways_bar(true);
        if (window.shape().ways_bar()->finder().is_outdated()) {
            window.shape().ways_bar()->find();
        }
    });
    add_filled(menu, tr("This goal"), [&window](QMenu& sub) {
        sub.clear();
        fill_goal_actions(sub, window);
    });
    QAction* point = add(menu, tr("Add a target point at the plumb line"), QKeySequence("Ctrl+T"),
                         &window, [&window, &session] {
                             if (current_goal(session) != nullptr && session.plumb().hz()) {
                                 add_target_point(session, *session.plumb().hz(),
                                                  target_level_at(session, *session.plumb().hz()));
                                 window.show_goal();
                             }
                         });
    QObject::connect(&menu, &QMenu::aboutToShow, &window, [point, &session] {
        point->setEnabled(current_goal(session) != nullptr && session.plumb().hz().has_value());
    });
    QObject::connect(&menu, &QMenu::aboutToHide, &window, [point] {
        QMetaObject::invokeMethod(
            point, [point] { point->setEnabled(true); }, Qt::QueuedConnection);
    });
    menu.addSeparator();
    add(menu, tr("Import a curve…"), {}, &window, [&window] { window.ask_import(); });
    QMenu* remove = menu.addMenu(tr("Remove a curve"));
    QObject::connect(remove, &QMenu::aboutToShow, &window, [remove, &window, &session] {
        remove->clear();
        for (const auto& curve : session.study().curves) {
            const QString id = QString::fromStdString(curve->id);
            QObject::connect(remove->addAction(QString::fromStdString(curve->name)),
                             &QAction::triggered, &window,
                             [&session, id] { remove_curve(session, id); });
        }
        if (remove->isEmpty()) {
            remove->addAction(tr("none"))->setEnabled(false);
        }
    });
}

namespace {

void fill_lanes_part(QMenu& menu, MainWindow& window) {
    // Those of the desk that is shown when the menu opens.
    add_filled(menu, tr("Lanes"),
               [&window](QMenu& sub) { fill_lanes_menu(sub, *window.shown_lanes()); });
    add_filled(menu, tr("Curves"),
               [&window](QMenu& sub) { fill_curves_menu(sub, *window.shown_lanes()); });
    QMenu& axes = *menu.addMenu(tr("Axes"));
    add_filled(axes, tr("Frequency"),
               [&window](QMenu& sub) { fill_frequency_menu(sub, *window.shown_lanes()); });
    for (const Lane lane : all_lanes) {
        add_filled(axes, title_of(lane), [&window, lane](QMenu& sub) {
            fill_lane_menu(sub, *window.shown_lanes(), lane);
        });
    }
    add(menu, tr("Zoom back"), QKeySequence("Ctrl+Backspace"), &window,
        [&window] { window.shown_lanes()->zoom_back(); });
    add(menu, tr("Zoom home"), QKeySequence("Ctrl+Home"), &window,
        [&window] { window.shown_lanes()->zoom_home(); });
}

void fill_plumb_part(QMenu& menu, MainWindow& window) {
    add(menu, tr("Plumb line down or up"), QKeySequence("Alt+P"), &window,
        [&window] { window.shown_lanes()->toggle_plumb_pin(); });
    add(menu, tr("Plumb line to the right"), QKeySequence("Alt+Right"), &window,
        [&window] { window.shown_lanes()->move_plumb(1.0 / 24); });
    add(menu, tr("Plumb line to the left"), QKeySequence("Alt+Left"), &window,
        [&window] { window.shown_lanes()->move_plumb(-1.0 / 24); });
    add(menu, tr("Knob under the lanes, or away"), QKeySequence("Ctrl+K"), &window, [&window] {
        window.show_desk(Desk::shape);
        window.shape().show_sweep_bar(!window.shape().sweep_bar()->isVisible());
    });
    add(menu, tr("Readout beside the lanes, or on them"), QKeySequence("Alt+R"), &window,
        [&window] {
            LaneStack& lanes = *window.shown_lanes();
            lanes.set_readout_column(!lanes.readout().is_column());
        });
}

void fill_pages_part(QMenu& menu, MainWindow& window) {
    const QStringList pages = ShapeDesk::upper_words();
    for (int page = 0; page < static_cast<int>(pages.size()); ++page) {
        add(menu, pages.at(page),
            page < ShapeDesk::network ? QKeySequence(QStringLiteral("Alt+%1").arg(page + 1))
                                      : QKeySequence("Alt+0"),
            &window, [&window, page] { window.show_shape_page(page); });
    }
    menu.addSeparator();
    for (int page = 0; page < static_cast<int>(ShapeDesk::lower_words().size()); ++page) {
        add(menu, ShapeDesk::lower_words().at(page),
            page <= ShapeDesk::decay ? QKeySequence(QStringLiteral("Alt+%1").arg(page + 7))
                                     : QKeySequence(),
            &window, [&window, page] {
                window.show_desk(Desk::shape);
                window.lower()->show_page(page);
            });
    }
}

} // namespace

void fill_view_menu(QMenu& menu, MainWindow& window) {
    for (const Desk desk : all_desks) {
        add(menu, tr("Desk: %1").arg(title_of(desk)),
            QKeySequence(QStringLiteral("Ctrl+%1").arg(static_cast<int>(desk) + 1)), &window,
            [&window, desk] { window.show_desk(desk); });
    }
    menu.addSeparator();
    add(menu, tr("Paper or night"), QKeySequence("F12"), &window, [] {
        const ThemeName other =
            theme().name == ThemeName::paper ? ThemeName::night : ThemeName::paper;
        use_theme(*qApp, other);
        QSettings().setValue("theme", other == ThemeName::night ? "night" : "paper");
    });
    menu.addSeparator();
    fill_lanes_part(menu, window);
    menu.addSeparator();
    fill_plumb_part(menu, window);
    menu.addSeparator();
    add(menu, tr("To the rail"), QKeySequence("F6"), &window, [&window] {
        const auto& cards = window.rail()->cards();
        if (cards.empty()) {
            window.rail()->add_button()->setFocus(Qt::ShortcutFocusReason);
            return;
        }
        const auto selected =
            std::ranges::find(cards, window.session().selection().stage, &StageCard::id);
        (selected != cards.end() ? *selected : cards.front())->setFocus(Qt::ShortcutFocusReason);
    });
    add(menu, tr("To the lanes"), QKeySequence("F7"), &window,
        [&window] { window.shown_lanes()->setFocus(Qt::ShortcutFocusReason); });
    add(menu, tr("To the fields"), QKeySequence("F8"), &window,
        [&window] { window.trim()->focus_first_field(); });
    menu.addSeparator();
    fill_pages_part(*menu.addMenu(tr("Pages")), window);
}

} // namespace syntonon
