// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/menus/menus.h"

#include "app/desks/shape_desk.h"
#include "app/dialogs/analog_file.h"
#include "app/menus/menu_parts.h"
#include "app/model/analog_commands.h"
#include "app/model/curve_commands.h"
#include "app/model/goal_commands.h"
#include "app/model/mending.h"
#include "app/model/stage_commands.h"
#include "app/model/take_commands.h"
#include "app/model/target_commands.h"
#include "app/panes/ways_bar.h"
#include "app/plot/lane_picture.h"
#include "app/plot/lane_stack.h"
#include "app/top_bar.h"
#include "app/widgets/colour_icon.h"
#include "app/widgets/theme.h"

#include <QApplication>
#include <QClipboard>
#include <QColorDialog>
#include <QFileInfo>
#include <QMenuBar>

namespace syntonon {
namespace {

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
    add(menu, tr("Import measurements…"), QKeySequence("Ctrl+Shift+M"), &window,
        [&window] { window.ask_import(); });
    add(menu, tr("Export coefficients: the Deliver desk"), QKeySequence("Ctrl+Shift+X"), &window,
        [&window] { window.export_coefficients(); });
    add(menu, tr("Report of the channel (PDF)…"), QKeySequence("Ctrl+Shift+R"), &window,
        [&window] { window.save_report(); });
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

namespace {

// Says on the message bar how far it is and what it did.
Mending* mending_of(MainWindow& window) {
    Session& session = window.session();
    auto* mending = new Mending(session, &window);
    QObject::connect(mending, &Mending::working, &window, [&window, mending](int percent) {
        window.message()->show_message(MessageKind::note,
                                       tr("Mending the chain: %1 %").arg(percent),
                                       {{tr("Stop"), [mending] { mending->stop(); }}});
    });
    QObject::connect(mending, &Mending::refused, &window, [&window](const QString& why) {
        window.message()->show_message(MessageKind::problem, why);
    });
    QObject::connect(mending, &Mending::ended, &window,
                     [&window, &session](const QString& changes, bool is_met) {
                         window.message()->show_message(
                             is_met ? MessageKind::note : MessageKind::problem,
                             (is_met ? tr("Mended: ") : tr("As close as it can be: ")) + changes,
                             {{tr("Take back"), [&session] { session.history().undo(); }}});
                     });
    return mending;
}

} // namespace

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
    add(menu, tr("Correct the measured channels"), QKeySequence("Ctrl+Shift+K"), &window,
        [&window] { window.correct_measured_channels(); });
    add(menu, tr("Mend the chain"), QKeySequence("Ctrl+Shift+G"), &window,
        [&window, mending = mending_of(window)] { say(window, mending->begin()); });
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
    add(menu, tr("Import measurements…"), {}, &window, [&window] { window.ask_import(); });
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

} // namespace syntonon
