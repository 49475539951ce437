// Open, save, recent, recovery, import, export, goal tables, menus.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/desks/deliver_desk.h"
#include "app/dialogs/import_dialog.h"
#include "app/model/curve_commands.h"
#include "app/model/goal_commands.h"
#include "app/panes/deliver/delivery_form.h"
#include "app/panes/deliver/delivery_preview.h"
#include "core/study/kinds.h"
#include "core/study/study_json.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDir>
#include <QLabel>
#include <QMenuBar>
#include <QProcess>
#include <QPushButton>
#include <QSysInfo>
#include <QTableWidget>
#include <set>

namespace syntonon {
namespace {

class Files : public test::Window {
protected:
    QString file(const char* name) { return QString::fromStdString(scratch.file(name).string()); }
    void change_something() {
        session().edit_channel("change", [](Channel& c) { c.name += "!"; });
    }
};

TEST_F(Files, SavingClearsTheMarkAndRemembersTheFile) {
    change_something();
    EXPECT_TRUE(window->windowTitle().contains("•"));
    ASSERT_TRUE(window->files().save_as(file("a.syntonon")));
    EXPECT_FALSE(window->windowTitle().contains("•"));
    EXPECT_TRUE(window->windowTitle().contains("a.syntonon"));
    EXPECT_EQ(StudyFiles::recent().first(), file("a.syntonon"));
    EXPECT_EQ(load_study(scratch.file("a.syntonon"))->study, session().study());
    session().history().undo();
    EXPECT_TRUE(session().is_modified()) << "undo past the saved state is unsaved work";
}

TEST_F(Files, AFileThatCannotBeOpenedLeavesTheStudyAndSaysWhy) {
    const Study before = session().study();
    scratch.write("bad.syntonon", "{\"format\": \"syntonon-study\", \"version\": 1,");
    for (const char* name : {"bad.syntonon", "missing.syntonon", "."}) {
        EXPECT_FALSE(window->open_study(file(name))) << name;
        EXPECT_FALSE(window->message()->text().isEmpty());
        EXPECT_EQ(session().study(), before);
    }
    EXPECT_TRUE(window->message()->text().startsWith(file(".")));
}

TEST_F(Files, AStudyWithAnImpossibleStageOpensAndSaysWhere) {
    Study study = brightwater_study();
    std::get<ParametricSpec>(study.channels[0].edit().stages[1].edit().spec.edit()).frequency_hz =
        30000;
    ASSERT_TRUE(save_study(study, scratch.file("odd.syntonon")));
    EXPECT_TRUE(window->open_study(file("odd.syntonon")));
    EXPECT_TRUE(window->message()->text().contains("channels[0].stages[1].frequency_hz"));
    EXPECT_FALSE(session().is_modified());
}

TEST_F(Files, SavingWhereOneMayNotKeepsTheWork) {
    change_something();
    ASSERT_FALSE(window->files().save_as(QString::fromStdString(scratch.folder().string())));
    EXPECT_TRUE(session().is_modified());
    EXPECT_FALSE(window->files().save_as("/proc/nowhere/x.syntonon"));
    EXPECT_TRUE(session().is_modified());
}

TEST_F(Files, WorkIsOfferedBackAfterAKill) {
    // A second program edits the study and is killed without mercy.
    ASSERT_TRUE(save_study(brightwater_study(), scratch.file("dome.syntonon")));
    QProcess program;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.insert("QT_QPA_PLATFORM", "offscreen");
    program.setProcessEnvironment(environment);
    program.start(QCoreApplication::applicationFilePath(),
                  {"--gtest_filter=CrashingProgram.*", "--gtest_also_run_disabled_tests"});
    QByteArray said;
    for (int seconds = 0; seconds < 20 && !said.contains("written"); ++seconds) {
        program.waitForReadyRead(1000);
        said += program.readAllStandardOutput();
    }
    ASSERT_TRUE(said.contains("written")) << said.toStdString();
    program.kill();
    program.waitForFinished();

    const auto works = window->files().recoverable();
    ASSERT_EQ(works.size(), 1u);
    EXPECT_EQ(works[0].name, "Lost work");
    window->offer_recovery();
    EXPECT_TRUE(window->message()->text().contains("Lost work"));
    const auto buttons = window->message()->findChildren<QPushButton*>();
    QTest::mouseClick(buttons.first(), Qt::LeftButton);
    EXPECT_EQ(session().study().name, "Lost work");
    EXPECT_EQ(session().study().channels.size(), 8u);
    EXPECT_TRUE(session().is_modified()) << "it is on no disk yet";
    EXPECT_TRUE(window->files().recoverable().empty());
    EXPECT_EQ(session().study().curves, brightwater_study().curves)
        << "with its impulse responses, which the copy keeps in files of their own";
    EXPECT_EQ(QDir(Recovery::folder()).entryList({"* responses"}, QDir::Dirs).size(), 1)
        << "this program's: the other one's have gone";
}

// Run as a program of its own by the test above.
class CrashingProgram : public test::Window {};
TEST_F(CrashingProgram, DISABLED_EditsAndIsKilled) {
    session().edit("name", [](Study& s) { s.name = "Lost work"; });
    session().edit("channel", [](Study& s) {
        Channel channel;
        channel.id = channel.name = "third";
        s.channels.emplace_back(channel);
    });
    QTest::qWait(2500); // longer than the moment until the copy is written
    std::puts("written");
    std::fflush(stdout);
    QTest::qWait(60000);
}

TEST_F(Files, NothingIsLeftToRecoverAfterSavingOrClosing) {
    change_something();
    window->files().keep_recovery_copy();
    const QDir folder(Recovery::folder());
    EXPECT_EQ(folder.entryList({"*.syntonon"}).size(), 1);
    ASSERT_TRUE(window->files().save_as(file("b.syntonon")));
    EXPECT_TRUE(folder.entryList({"*.syntonon"}).isEmpty());
    change_something();
    window->files().keep_recovery_copy();
    window->files().close();
    EXPECT_TRUE(folder.entryList({"*.syntonon*"}).isEmpty());
    EXPECT_TRUE(folder.entryList({"* responses"}, QDir::Dirs).isEmpty());
}

TEST_F(Files, WhatAProgramLeftThatWasKilledWithNothingUnsavedIsRemoved) {
    const QDir folder(Recovery::folder());
    ASSERT_TRUE(folder.mkpath("gone responses"));
    for (const char* name :
         {"gone.syntonon.lock", "gone.syntonon.origin", "gone responses/a.wav"}) {
        QFile file(folder.filePath(name));
        ASSERT_TRUE(file.open(QIODevice::WriteOnly));
        if (QString(name).endsWith(
                "lock")) { // as QLockFile writes it, of a process that is no more
            file.write("999999999\nsyntonon\n" + QSysInfo::machineHostName().toUtf8() + '\n'
                       + QSysInfo::machineUniqueId() + '\n' + QSysInfo::bootUniqueId() + '\n');
        }
    }
    change_something();
    window->files().keep_recovery_copy();
    ASSERT_TRUE(window->files().save_as(file("c.syntonon")));
    EXPECT_TRUE(window->files().recoverable().empty());
    EXPECT_TRUE(folder.entryList({"gone*"}).isEmpty());
    EXPECT_EQ(folder.entryList({"* responses"}, QDir::Dirs).size(), 1) << "this program's own";
}

TEST_F(Files, ImportsACurveAndUsesIt) {
    scratch.write("row.txt", "Hz;dB\n20,5;81\n200;84\n1000;86\n20000;80\n");
    ImportDialog dialog(session(), file("row.txt"), UseAs::measured, window.get());
    EXPECT_TRUE(dialog.facts().contains("4 points"));
    EXPECT_TRUE(dialog.facts().contains("decimal"));
    EXPECT_TRUE(dialog.centre_choice()->isChecked())
        << "a sound pressure level is moved to the lane";
    QTest::mouseClick(dialog.import_button(), Qt::LeftButton);
    EXPECT_EQ(session().channel()->measured, (MeasuredSet{{"row"}}));
    const Curve& curve = *session().analysis()->measured->curve;
    EXPECT_NEAR(mean_level_db(curve, 200, 5000).value(), 0, 1e-9);
    EXPECT_EQ(undo_name(), "Import row");
    session().history().undo();
    EXPECT_EQ(session().channel()->measured.size(), 4u);
    ImportDialog more(session(), file("row.txt"), UseAs::position, window.get());
    more.import_button()->click();
    ASSERT_EQ(session().channel()->measured.size(), 5u);
    EXPECT_EQ(session().channel()->measured.back(), Position{"row"});
    EXPECT_TRUE(curve_of(session().study(), "row")->source.starts_with("row.txt, "));
}

TEST_F(Files, ABadCurveIsExplainedAndNotImported) {
    scratch.write("bad.txt", "20 1\n30 oops\n");
    ImportDialog dialog(session(), file("bad.txt"), UseAs::measured, window.get());
    EXPECT_FALSE(dialog.can_import());
    EXPECT_FALSE(dialog.import_button()->isEnabled());
    EXPECT_TRUE(dialog.facts().contains("line 2"));
}

TEST_F(Files, ExportPreviewsRefusesAndReplaces) {
    window->show_desk(Desk::deliver);
    DeliverDesk& desk = window->deliver();
    DeliveryPreview& preview = *desk.preview();
    desk.set_folder(QString::fromStdString(scratch.folder().string()));
    choose_item(desk.form()->format_choice(), 2);
    desk.refresh_now();
    EXPECT_TRUE(preview.text().contains("static const double"));
    choose_item(desk.form()->format_choice(), 0);
    scratch.write("brightwater-dome_zenith_table.csv", "precious");
    desk.refresh_now();
    EXPECT_FALSE(preview.write_button()->isEnabled());
    EXPECT_TRUE(preview.status().contains("exist already"));
    preview.replace_choice()->setChecked(true);
    EXPECT_TRUE(preview.write_button()->isEnabled());
    preview.write_button()->click();
    desk.finish_writing();
    EXPECT_TRUE(preview.status().contains("read back")) << preview.status().toStdString();
    EXPECT_NE(test::bytes_of(scratch.file("brightwater-dome_zenith_table.csv")), "precious");
}

class GoalTables : public test::Window {
protected:
    const Goal& goal() { return *current_goal(session()); }
    void type_cell(QTableWidget* table, int row, int column, const QString& text) {
        table->item(row, column)->setText(text);
        QApplication::processEvents();
    }
    QString problem() { return window->goal_pane()->findChild<QLabel*>("goal_problem")->text(); }
};

TEST_F(GoalTables, EditPointsAndRanges) {
    window->show_goal();
    QTableWidget* points = window->goal_pane()->target_table();
    type_cell(points, 2, 1, "1.5 dB");
    EXPECT_EQ(goal().target.points[2].value, 1.5);
    type_cell(points, 0, 0, "5k");
    EXPECT_EQ(goal().target.points[2].frequency_hz, 5000) << "points stay in order";
    window->goal_pane()->show_tab(1);
    QTableWidget* ranges = window->goal_pane()->corridor_table();
    type_cell(ranges, 1, 2, "open");
    EXPECT_FALSE(goal().corridor[1].below_db.has_value());
    type_cell(ranges, 1, 3, "1.02 ratio");
    EXPECT_NEAR(*goal().corridor[1].above_db, 0.172, 0.001);
    EXPECT_EQ(undo_name(), "Change a corridor range");
}

TEST_F(GoalTables, RefuseWhatContradictsItself) {
    window->show_goal();
    window->goal_pane()->show_tab(1);
    const Goal before = goal();
    type_cell(window->goal_pane()->corridor_table(), 0, 1, "10");
    EXPECT_EQ(goal(), before);
    EXPECT_TRUE(problem().contains("corridor[0].to_hz")) << problem().toStdString();
    EXPECT_EQ(window->goal_pane()->corridor_table()->item(0, 1)->text(), "250")
        << "the table shows what holds";
    window->goal_pane()->show_tab(0);
    type_cell(window->goal_pane()->target_table(), 1, 0, "x y");
    EXPECT_EQ(goal(), before);
    EXPECT_FALSE(problem().isEmpty());
}

TEST_F(GoalTables, AddAndRemoveByButtons) {
    window->show_goal();
    const auto press = [&](const QString& text) {
        for (QPushButton* button : window->goal_pane()->findChildren<QPushButton*>()) {
            if (button->text() == text && button->isVisible()) {
                QTest::mouseClick(button, Qt::LeftButton);
                return;
            }
        }
        FAIL() << text.toStdString();
    };
    press("Add point");
    EXPECT_EQ(goal().target.points.size(), 5u);
    EXPECT_TRUE(check(goal()));
    window->goal_pane()->target_table()->setCurrentCell(0, 0);
    press("Remove");
    EXPECT_EQ(goal().target.points.size(), 4u);
    window->goal_pane()->show_tab(1);
    press("Add range");
    EXPECT_EQ(goal().corridor.size(), 3u);
    EXPECT_TRUE(check(goal()));
    add_goal(session());
    EXPECT_EQ(session().channel()->goal, "zenith-goal");
    EXPECT_EQ(session().study().channels[1]->goal, "dome") << "the other channel keeps its own";
}

TEST_F(GoalTables, ARemovedCurveIsSaidNotPassedOver) {
    window->show_goal();
    choose_measured(session(), "zenith-a");
    remove_curve(session(), "zenith-a");
    EXPECT_FALSE(is_met(session().analysis()->verdict));
    EXPECT_TRUE(window->goal_pane()->measured_choice()->currentText().contains("missing"));
}

class Menus : public test::Window {};

TEST_F(Menus, ShortcutsAreUnique) {
    std::set<QString> seen;
    for (const QAction* action : window->findChildren<QAction*>()) {
        if (!action->shortcut().isEmpty()) {
            EXPECT_TRUE(seen.insert(action->shortcut().toString()).second)
                << action->shortcut().toString().toStdString();
        }
    }
    EXPECT_GT(seen.size(), 25u);
}

TEST_F(Menus, HelpListsEveryShortcut) {
    shortcut(Qt::Key_F1, Qt::ShiftModifier);
    const auto* dialog = window->findChild<QDialog*>("shortcuts");
    ASSERT_NE(dialog, nullptr);
    const auto* table = dialog->findChild<QTableWidget*>();
    std::set<QString> listed;
    for (int i = 0; i < table->rowCount(); ++i) {
        listed.insert(table->item(i, 1)->text());
    }
    for (const QAction* action : window->findChildren<QAction*>()) {
        if (!action->shortcut().isEmpty()) {
            EXPECT_TRUE(listed.contains(action->shortcut().toString(QKeySequence::NativeText)))
                << action->text().toStdString();
        }
    }
}

TEST_F(Menus, EveryControlHasAnAccessibleName) {
    window->show_goal();
    for (const QWidget* widget : window->findChildren<QWidget*>()) {
        const bool control = widget->focusPolicy() != Qt::NoFocus && widget->isVisible()
                             && widget->focusProxy() == nullptr;
        const auto* button = qobject_cast<const QAbstractButton*>(widget);
        const bool inside_another =
            widget->inherits("QHeaderView") || widget->objectName().startsWith("qt_")
            || widget->inherits("QSplitter") || widget->inherits("QMenuBar");
        if (control && !inside_another) {
            EXPECT_FALSE(widget->accessibleName().isEmpty()
                         && (button == nullptr || button->text().isEmpty()))
                << widget->metaObject()->className() << " " << widget->objectName().toStdString();
        }
    }
}

TEST_F(Menus, KeysReachThePanes) {
    shortcut(Qt::Key_F6, {});
    EXPECT_NE(qobject_cast<StageCard*>(QApplication::focusWidget()), nullptr);
    session().select_stage(id(2));
    shortcut(Qt::Key_F8, {});
    EXPECT_EQ(QApplication::focusWidget(), trim().frequency()->editor());
    shortcut(Qt::Key_F7, {});
    EXPECT_EQ(QApplication::focusWidget(), &lanes());
    shortcut(Qt::Key_PageDown, Qt::ControlModifier);
    EXPECT_EQ(session().selection().channel, 1);
    shortcut(Qt::Key_F9, {});
    EXPECT_TRUE(window->goal_pane()->isVisible());
}

TEST_F(Menus, DeleteInATableIsNotAboutStages) {
    window->show_goal();
    session().select_stage(id(3));
    window->goal_pane()->target_table()->setFocus();
    QTest::keyClick(window->goal_pane()->target_table(), Qt::Key_Delete);
    EXPECT_EQ(stages(), 6u);
}

TEST_F(Menus, BothThemesKeepTextReadable) {
    const auto luminance = [](const QColor& c) {
        const auto linear = [](double v) {
            return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
        };
        return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF());
    };
    const auto contrast = [&](const QColor& a, const QColor& b) { // WCAG 2.1, contrast ratio
        const double high = std::max(luminance(a), luminance(b)),
                     low = std::min(luminance(a), luminance(b));
        return (high + 0.05) / (low + 0.05);
    };
    for (const ThemeName name : {ThemeName::night, ThemeName::paper}) {
        use_theme(*qApp, name);
        const Theme& t = theme();
        for (const QColor& ground : {t.ground, t.panel, t.raised}) {
            EXPECT_GE(contrast(t.text, ground), 7);
            if (name == ThemeName::night) {
                EXPECT_GE(contrast(t.soft, ground), 7);
            }
        }
        for (const QColor& curve :
             {t.ink, t.copper, t.measured, t.plum, t.met, t.not_met, t.corridor_edge}) {
            EXPECT_GE(contrast(curve, t.panel), 3) << curve.name().toStdString();
        }
        // Fields keep their own colours, which must follow.
        session().select_stage(id(1));
        EXPECT_EQ(trim().frequency()->editor()->palette().color(QPalette::Text), t.text);
    }
}

} // namespace
} // namespace syntonon
