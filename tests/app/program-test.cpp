// The program itself, started as a user starts it, and the menus' commands.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"
#include "tests/support/places.h"
#include "tests/support/sounds.h"

#include "core/study/study_json.h"

#include <QDropEvent>
#include <QImage>
#include <QMenu>
#include <QMenuBar>
#include <QMessageBox>
#include <QMimeData>
#include <QProcess>
#include <QPushButton>
#include <QTimer>
#include <QToolButton>
#include <QUrl>
#include <filesystem>

namespace syntonon {
namespace {

class Program : public testing::Test {
protected:
    struct Ended {
        int code;
        QString out, err;
    };
    Ended run(const QStringList& arguments) {
        QProcess program;
        program.start(QString::fromStdString(test::app_program()), arguments);
        program.waitForFinished(240000);
        return {program.exitCode(), QString::fromUtf8(program.readAllStandardOutput()),
                QString::fromUtf8(program.readAllStandardError())};
    }
    QString demo = QString::fromStdString(test::demo_study());
    QString small =
        QString::fromStdString(test::source_folder() + "/demo/aurora-low-pass.syntonon");
    test::Scratch scratch;
};

TEST_F(Program, HeadlessWritesPicturesVerdictAndExports) {
    const QString out = QString::fromStdString(scratch.file("new/out").string());
    const Ended ended = run({"--headless", "--out", out, demo});
    EXPECT_EQ(ended.code, 0) << ended.err.toStdString();
    for (const char* name : {"window-paper", "window-goal", "window-model", "window-correction",
                             "window-fir", "desk-measure", "desk-listen", "desk-deliver"}) {
        const QImage picture(out + "/" + name + ".png");
        EXPECT_EQ(picture.size(), QSize(1280, 800)) << name;
    }
    EXPECT_EQ(QImage(out + "/window-night.png").height(), 800);
    EXPECT_EQ(QImage(out + "/window-large.png").size(), QSize(1920, 1080));
    const std::string verdict = test::bytes_of(scratch.file("new/out/verdict.txt"));
    EXPECT_NE(verdict.find("zenith: corridor 40–250 Hz: met"), std::string::npos);
    EXPECT_NE(verdict.find("sunrise: corridor 0.25–16 kHz: NOT MET"), std::string::npos);
    for (const char* file :
         {"zenith_table.csv", "sunrise_table.csv", "zenith_json.json", "zenith_c-float.h"}) {
        EXPECT_TRUE(std::filesystem::exists(
            scratch.file("new/out/exports/brightwater-dome_" + std::string(file))))
            << file;
    }
    for (const char* channel : {"zenith", "sunrise", "sunset"}) {
        EXPECT_TRUE(
            test::bytes_of(scratch.file("new/out/reports/" + std::string(channel) + "_report.pdf"))
                .starts_with("%PDF"))
            << channel;
    }
    // The narration, and what the takes make of it.
    const auto in = test::read_sound(scratch.file("new/out/sounds/docent_in.wav"));
    for (const char* name : {"out", "take-recursive", "take-fir"}) {
        const auto made =
            test::read_sound(scratch.file("new/out/sounds/docent_" + std::string(name) + ".wav"));
        EXPECT_EQ(made.size(), in.size());
        EXPECT_NE(made, in);
    }
}

TEST_F(Program, HeadlessLeavesOutSoundsThatCannotBeMadeAndSaysSo) {
    Study study = empty_study();
    study.test_signals.emplace_back(
        Signal{"gone", "Gone", {}, FileRecipe{"gone.wav", {}, 1, 0, false}, {}});
    study.channels[0].edit().bench.signal = "gone";
    const auto path = scratch.file("gone.syntonon");
    ASSERT_TRUE(save_study(study, path));
    const QString out = QString::fromStdString(scratch.file("out").string());
    const Ended ended = run({"--headless", "--out", out, QString::fromStdString(path.string())});
    EXPECT_EQ(ended.code, 0) << ended.err.toStdString();
    EXPECT_TRUE(ended.err.contains("no sound: ")) << ended.err.toStdString();
    EXPECT_TRUE(ended.err.contains("gone.wav"));
    EXPECT_TRUE(std::filesystem::exists(scratch.file("out/desk-listen.png")));
}

TEST_F(Program, HeadlessPicturesAnyStudy) {
    const QString out = QString::fromStdString(scratch.file("out").string());
    const Ended ended = run({"--headless", "--out", out, small});
    EXPECT_EQ(ended.code, 0) << ended.err.toStdString();
    for (const char* name : {"channel-aurora", "desk-measure", "desk-listen", "desk-deliver"}) {
        EXPECT_FALSE(QImage(out + "/" + name + ".png").isNull()) << name;
    }
    EXPECT_EQ(run({"--headless", "--out", out, small}).code, 0)
        << "a second run replaces the first one's files";
}

TEST_F(Program, HeadlessSaysWhatItLacks) {
    EXPECT_EQ(run({"--headless", demo}).code, 2);
    EXPECT_EQ(run({"--headless", "--out", "x"}).code, 2);
    const Ended missing =
        run({"--headless", "--out", QString::fromStdString(scratch.folder().string()),
             "/no/such.syntonon"});
    EXPECT_EQ(missing.code, 2);
    EXPECT_TRUE(missing.err.contains("/no/such.syntonon"));
    EXPECT_EQ(run({"--headless", "--out", "/proc/none/x", demo}).code, 2);
    EXPECT_EQ(run({"--version"}).code, 0);
}

TEST_F(Program, LogsIntoTheStateFolderAndIsSilent) {
    const std::string home = qgetenv("XDG_STATE_HOME").toStdString();
    const QString out = QString::fromStdString(scratch.file("out").string());
    const Ended ended = run({"--headless", "--log-level", "debug", "--out", out, small});
    EXPECT_EQ(ended.code, 0);
    EXPECT_EQ(ended.err, "");
    const std::string log = test::bytes_of(home + "/syntonon/syntonon.log");
    EXPECT_NE(log.find("info: Syntonon "), std::string::npos);
    EXPECT_NE(log.find("info: opened " + small.toStdString()), std::string::npos) << log;
    EXPECT_TRUE(
        run({"--headless", "--log-to-terminal", "--out", out, small}).err.contains("opened"));
    const Ended wrong = run({"--log-level", "loud"});
    EXPECT_EQ(wrong.code, 2);
    EXPECT_TRUE(wrong.err.contains("debug, info, warning, error or off"));
}

class MenuCommands : public test::Window {
protected:
    // The action at "Stage/Duplicate".
    QAction* action(const QString& menu, const QString& name) {
        for (QAction* top : window->findChild<QMenuBar*>()->actions()) {
            if (top->text().remove('&') == menu) {
                return find(*top->menu(), name);
            }
        }
        return nullptr;
    }
    static QAction* find(QMenu& menu, const QString& name) {
        emit menu.aboutToShow(); // some are filled when they open
        for (QAction* action : menu.actions()) {
            if (action->text() == name) {
                return action;
            }
            if (action->menu() != nullptr) {
                if (QAction* inside = find(*action->menu(), name)) {
                    return inside;
                }
            }
        }
        return nullptr;
    }
    void trigger(const QString& menu, const QString& name) {
        QAction* found = action(menu, name);
        ASSERT_NE(found, nullptr) << (menu + "/" + name).toStdString();
        found->trigger();
        QApplication::processEvents();
    }
    // Answers the next message box by the button's text.
    void answer(const QString& text) {
        QTimer::singleShot(0, window.get(), [text] {
            auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
            ASSERT_NE(box, nullptr);
            for (QAbstractButton* button : box->buttons()) {
                if (button->text() == text) {
                    button->click();
                    return;
                }
            }
            FAIL() << "no button " << text.toStdString();
        });
    }
};

TEST_F(MenuCommands, StageCommandsDoWhatTheySay) {
    session().select_stage(id(2));
    trigger("Stage", "Duplicate");
    EXPECT_EQ(stages(), 7u);
    EXPECT_EQ(session().selection().stage, id(3));
    trigger("Stage", "Move up");
    EXPECT_EQ(session().selection().stage, id(2));
    trigger("Stage", "Move down");
    EXPECT_EQ(session().selection().stage, id(3));
    trigger("Stage", "Switch on or off");
    EXPECT_FALSE(session().stage()->enabled);
    trigger("Stage", "Remove");
    EXPECT_EQ(stages(), 6u);
    trigger("Stage", "Notch");
    EXPECT_EQ(std::get<ParametricSpec>(*session().stage()->spec).shape, ParametricShape::notch);
    trigger("Stage", "Previous stage");
    trigger("Stage", "Next stage");
    EXPECT_EQ(std::get<ParametricSpec>(*session().stage()->spec).shape, ParametricShape::notch);
}

TEST_F(MenuCommands, EditNamesTheStep) {
    session().select_stage(id(1));
    trigger("Stage", "Remove");
    QAction* undo = nullptr;
    for (QAction* candidate : window->findChildren<QAction*>()) {
        undo = candidate->shortcut() == QKeySequence(QKeySequence::Undo) ? candidate : undo;
    }
    ASSERT_NE(undo, nullptr);
    EXPECT_EQ(undo->text(), "Undo Remove Peak 63 Hz");
    undo->trigger();
    EXPECT_EQ(stages(), 6u);
}

TEST_F(MenuCommands, ViewCommandsChangeTheViewOnly) {
    const Study before = session().study();
    trigger("View", "−60 … 20 dB");
    EXPECT_EQ(lanes().range(Lane::magnitude).low, -60);
    trigger("View", "−1 … 5 ms");
    EXPECT_EQ(lanes().range(Lane::delay).high, 5);
    trigger("View", "Paper or night");
    EXPECT_EQ(theme().name, ThemeName::night);
    trigger("View", "Paper or night");
    EXPECT_EQ(theme().name, ThemeName::paper);
    trigger("View", "Numbers");
    EXPECT_EQ(window->upper()->shown_page(), 1);
    trigger("View", "Decay");
    EXPECT_EQ(window->lower()->shown_page(), 2);
    EXPECT_EQ(session().study(), before);
    EXPECT_FALSE(session().is_modified());
}

TEST_F(MenuCommands, GoalCommands) {
    session().plumb().set(500.0);
    trigger("Goal", "Add a target point at the plumb line");
    EXPECT_EQ(session().study().goals[0]->target.points.size(), 5u);
    EXPECT_TRUE(window->goal_pane()->isVisible());
    trigger("Goal", "New goal for this channel");
    EXPECT_EQ(session().study().goals.size(), 5u);
}

TEST_F(MenuCommands, TheSampleRateIsAnEditOfTheStudy) {
    auto* button = window->findChild<QToolButton*>();
    for (QToolButton* candidate : window->findChildren<QToolButton*>()) {
        button = candidate->accessibleName() == "Sample rate" ? candidate : button;
    }
    find(*button->menu(), "96 kHz")->trigger();
    EXPECT_EQ(session().study().sample_rate_hz, 96000);
    EXPECT_EQ(button->text(), "96 kHz");
    EXPECT_TRUE(undo_name().contains("96 kHz"));
    emit button->menu()->aboutToShow();
    for (const QAction* action : button->menu()->actions()) {
        EXPECT_EQ(action->isChecked(), action->text() == "96 kHz") << action->text().toStdString();
    }
    session().history().undo();
    EXPECT_EQ(button->text(), "48 kHz");
}

TEST_F(MenuCommands, UnsavedWorkIsAskedAbout) {
    session().edit_channel("change", [](Channel& c) { c.name = "Changed"; });
    answer("Cancel");
    trigger("Study", "New");
    EXPECT_EQ(session().channel()->name, "Changed");
    answer("Discard");
    trigger("Study", "New");
    EXPECT_EQ(session().channel()->name, "Channel 1");
    EXPECT_FALSE(session().is_modified());
    ASSERT_TRUE(
        window->files().save_as(QString::fromStdString(scratch.file("kept.syntonon").string())));
    session().edit_channel("change", [](Channel& c) { c.name = "Kept"; });
    answer("Save");
    trigger("Study", "New");
    EXPECT_EQ(load_study(scratch.file("kept.syntonon"))->study.channels[0]->name, "Kept");
}

TEST_F(MenuCommands, RecentStudiesAreListedAndOpen) {
    ASSERT_TRUE(save_study(empty_study(), scratch.file("old.syntonon")));
    ASSERT_TRUE(window->open_study(QString::fromStdString(scratch.file("old.syntonon").string())));
    window->files().start_new();
    QMenu* recent = action("Study", "Recent")->menu();
    emit recent->aboutToShow();
    ASSERT_FALSE(recent->isEmpty());
    EXPECT_TRUE(recent->actions().first()->text().startsWith("old.syntonon"));
    recent->actions().first()->trigger();
    EXPECT_TRUE(window->files().path().endsWith("old.syntonon"));
}

TEST_F(MenuCommands, AStudyDroppedOnTheWindowOpens) {
    ASSERT_TRUE(save_study(empty_study(), scratch.file("dropped.syntonon")));
    QMimeData data;
    data.setUrls(
        {QUrl::fromLocalFile(QString::fromStdString(scratch.file("dropped.syntonon").string()))});
    QDragEnterEvent enter({10, 10}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(window.get(), &enter);
    EXPECT_TRUE(enter.isAccepted());
    QDropEvent drop({10, 10}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(window.get(), &drop);
    EXPECT_TRUE(window->files().path().endsWith("dropped.syntonon"));
}

TEST_F(MenuCommands, AWarningAboutUnknownKeysIsShownNotAsAProblem) {
    Study study = empty_study();
    study.unknown.keep("\"mood\"", "1");
    ASSERT_TRUE(save_study(study, scratch.file("odd.syntonon")));
    ASSERT_TRUE(window->open_study(QString::fromStdString(scratch.file("odd.syntonon").string())));
    EXPECT_TRUE(window->message()->text().contains("mood"));
}

} // namespace
} // namespace syntonon
