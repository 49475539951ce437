// What is seen, and where the keys go.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/menus/menus.h"

#include "app/desks/listen_desk.h"
#include "app/desks/shape_desk.h"
#include "app/menus/menu_parts.h"
#include "app/panes/companion.h"
#include "app/panes/crossover/crossover_page.h"
#include "app/panes/fitted/fitted_page.h"
#include "app/panes/modelled/model_page.h"
#include "app/panes/rail.h"
#include "app/panes/stage_card.h"
#include "app/panes/sweep_bar.h"
#include "app/panes/trim_strip.h"
#include "app/plot/lane_menus.h"
#include "app/plot/lane_stack.h"
#include "app/widgets/theme.h"

#include <QApplication>
#include <QPushButton>
#include <QSettings>
#include <algorithm>

namespace syntonon {
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
    add(menu, tr("Tone at the plumb line, or none"), QKeySequence("Alt+T"), &window, [&window] {
        ToneMeter& tone = window.session().tone();
        tone.switch_on(!tone.is_on());
    });
    add(menu, tr("Live spectrum on the lanes, or none"), QKeySequence("Alt+L"), &window, [&window] {
        LiveSpectrum& live = window.session().live();
        live.wish(!live.is_wished());
    });
    add(menu, tr("Play or stop the bench's signal"), QKeySequence("Ctrl+Shift+Space"), &window,
        [&window] {
            Listening& listening = window.listen().listening();
            window.listen().bench().set_watched(true);
            listening.play(!listening.is_playing());
        });
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
    for (int page = 0; page <= ShapeDesk::network; ++page) {
        add(menu, pages.at(page),
            page < ShapeDesk::network ? QKeySequence(QStringLiteral("Alt+%1").arg(page + 1))
                                      : QKeySequence("Alt+0"),
            &window, [&window, page] { window.show_shape_page(page); });
    }
    add(menu, tr("Correction, fit, crossover or model"), QKeySequence("Alt+F"), &window, [&window] {
        const Session& session = window.session();
        window.show_shape_page(ModelPage::is_there(session)       ? ShapeDesk::model
                               : CrossoverPage::is_there(session) ? ShapeDesk::crossover
                               : FittedPage::is_there(session)    ? ShapeDesk::fitted
                                                                  : ShapeDesk::correction);
    });
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
