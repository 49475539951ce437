// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/main_window.h"
#include "app/menus/menus.h"

#include "app/help/manual_window.h"
#include "app/tour/tour.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/words.h"

#include <QApplication>
#include <QDialog>
#include <QHeaderView>
#include <QMenuBar>
#include <QMessageBox>
#include <QTableWidget>
#include <QVBoxLayout>

namespace syntonon {
namespace {

using Row = std::pair<QString, QString>;

void collect(const QMenu& menu, const QString& path, QList<Row>& rows) {
    for (const QAction* action : menu.actions()) {
        const QString name = action->text().remove('&');
        if (action->menu() != nullptr) {
            collect(*action->menu(), path + " · " + name, rows);
        } else if (!action->shortcut().isEmpty()) {
            rows.append(
                {path + " · " + name, action->shortcut().toString(QKeySequence::NativeText)});
        }
    }
}

// Keys and pointer movements that are no menu commands.
QList<Row> gestures() {
    return {
        {tr("Lanes · move the held stage's frequency"), tr("Left, Right (Shift: finely)")},
        {tr("Lanes · move the held stage's gain"), tr("Up, Down (Shift: finely)")},
        {tr("Lanes · widen or narrow the held stage"), tr("Page Up, Page Down, or the wheel")},
        {tr("Lanes · drag along one axis only"), tr("Ctrl while dragging")},
        {tr("Lanes · take a drag back"), tr("Escape while dragging")},
        {tr("Lanes · let the plumb line down or take it up"), tr("Click")},
        {tr("Lanes · new target point (goal shown)"), tr("Double click on the target")},
        {tr("Lanes · remove the target point held last"), tr("Delete (goal shown)")},
        {tr("Lanes · new weight point (weight lane)"), tr("Double click on the lane")},
        {tr("Lanes · move a sample of an FIR"), tr("Drag, or arrows for the one held last")},
        {tr("Lanes · leave a sample to the program, or keep it"), tr("Double click on the sample")},
        {tr("Lanes · remove the sample or weight point held last"), tr("Delete")},
        {tr("Lanes · delay of an FIR (delay lane)"), tr("Drag its square (Shift: finely)")},
        {tr("FIR · Trade · another design"), tr("Left, Right; Enter takes it")},
        {tr("FIR · Window · side lobes, or the point in hand"), tr("Up, Down (Shift: finely)")},
        {tr("Rail · select the next or previous stage"), tr("Up, Down")},
        {tr("Rail · look at several stages together"), tr("Ctrl+click, Ctrl+Space")},
        {tr("Listen · play or stop"), tr("Space")},
        {tr("Waveforms · along the time, less or more of it"),
         tr("Left, Right, + and −, the wheel")},
        {tr("Spectrum · to what stands out next"), tr("Left, Right; Escape lets go")},
        {tr("Knob · turn"), tr("Left, Right (Shift: finely), the wheel, or drag")},
        {tr("Field · step"), tr("Up, Down (Shift: finely)")},
        {tr("Field · scrub"), tr("Drag its caption sideways")},
        {tr("Field · units and arithmetic"),
         tr("1k, 1.2 kHz, 0.25 fs, 2*pi*750 rad/s, x0.5, 0.98 ratio")},
    };
}

void show_shortcuts(MainWindow& window, const QMenuBar& bar) {
    QList<Row> rows;
    for (const QAction* action : bar.actions()) {
        collect(*action->menu(), action->text().remove('&'), rows);
    }
    rows += gestures();
    auto* dialog = new QDialog(&window);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(tr("Keys and movements"));
    dialog->setObjectName("shortcuts");
    dialog->resize(640, 560);
    auto* table = new QTableWidget;
    set_up_rows(*table, {tr("what"), tr("how")});
    table->setRowCount(static_cast<int>(rows.size()));
    table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table->setShowGrid(false);
    table->setAccessibleName(tr("Keys and movements"));
    for (int i = 0; i < rows.size(); ++i) {
        table->setItem(i, 0, new QTableWidgetItem(rows[i].first));
        table->setItem(i, 1, new QTableWidgetItem(rows[i].second));
    }
    auto* column = new QVBoxLayout(dialog);
    column->addWidget(table);
    dialog->show();
}

} // namespace

void fill_help_menu(QMenu& menu, MainWindow& window, QMenuBar& bar) {
    // The key itself is heard by ManualKey, in dialogs too, and opens what belongs to the place.
    QAction* manual = menu.addAction(tr("Manual") + "\tF1");
    QObject::connect(manual, &QAction::triggered, &window, [] { show_manual({"contents", {}}); });
    QAction* tour = menu.addAction(tr("The first hour"));
    QObject::connect(tour, &QAction::triggered, &window, &start_tour_beside);
    QAction* glossary = menu.addAction(tr("Glossary"));
    QObject::connect(glossary, &QAction::triggered, &window, [] { show_manual({"glossary", {}}); });
    QAction* keys = menu.addAction(tr("Keys and movements"));
    keys->setShortcut(QKeySequence("Shift+F1"));
    QObject::connect(keys, &QAction::triggered, &window,
                     [&window, &bar] { show_shortcuts(window, bar); });
    QAction* about = menu.addAction(tr("About Syntonon"));
    QObject::connect(about, &QAction::triggered, &window, [&window] {
        auto* box = new QMessageBox(&window);
        box->setAttribute(Qt::WA_DeleteOnClose);
        box->setWindowTitle(tr("About Syntonon"));
        box->setText(tr("Syntonon %1\n\nDesigns audio filters: biquad cascades tuned by number and "
                        "by hand against a target, delivered as coefficients.\n\nFree software "
                        "under the GNU General Public License, version 3 or later.")
                         .arg(QApplication::applicationVersion()));
        box->open();
    });
}

} // namespace syntonon
