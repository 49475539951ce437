// How the program begins without a display and ends when it is told to.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/dialogs/recovery_dialog.h"
#include "app/end_signals.h"
#include "core/study/study_json.h"
#include "tests/support/places.h"

#include <QDir>
#include <QProcess>
#include <QPushButton>
#include <QTableWidget>
#include <csignal>
#include <cstdio>
#include <cstdlib>

namespace syntonon {
namespace {

struct Ended {
    int code = -1;
    QString out, err;
};

Ended run_without_display(const QStringList& arguments, const QString& display = {}) {
    QProcess program;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    for (const char* name : {"DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"}) {
        environment.remove(name);
    }
    if (!display.isEmpty()) {
        environment.insert("DISPLAY", display);
    }
    program.setProcessEnvironment(environment);
    program.start(QString::fromStdString(test::app_program()), arguments);
    program.waitForFinished(20'000);
    return {program.exitStatus() == QProcess::NormalExit ? program.exitCode() : -1,
            QString::fromUtf8(program.readAllStandardOutput()),
            QString::fromUtf8(program.readAllStandardError())};
}

TEST(WithoutDisplay, HelpAndVersionAnswer) {
    const Ended help = run_without_display({"--help"});
    EXPECT_EQ(help.code, 0);
    EXPECT_TRUE(help.out.contains("--headless"));
    const Ended version = run_without_display({"--version"});
    EXPECT_EQ(version.code, 0);
    EXPECT_TRUE(version.out.startsWith("syntonon "));
}

TEST(WithoutDisplay, OneLineSaysWhatToDo) {
    for (const QString& display : {QString(), QStringLiteral(":7654")}) {
        const Ended ended = run_without_display({"study.syntonon"}, display);
        EXPECT_EQ(ended.code, 2) << display.toStdString();
        EXPECT_EQ(ended.err.count('\n'), 1) << ended.err.toStdString();
        EXPECT_TRUE(ended.err.contains("no display")) << ended.err.toStdString();
        EXPECT_TRUE(ended.err.contains("--headless")) << ended.err.toStdString();
    }
}

class Ending : public test::Window {
protected:
    void TearDown() override {
        for (const RecoveredWork& work : window->files().recoverable()) {
            window->files().discard(work);
        }
        Window::TearDown();
    }
    // A program of its own that edits, says so, and goes on until it is ended.
    void end_program_with(int signal) {
        QProcess program;
        QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
        environment.insert("QT_QPA_PLATFORM", "offscreen");
        program.setProcessEnvironment(environment);
        program.start(QCoreApplication::applicationFilePath(),
                      {"--gtest_filter=EndedProgram.*", "--gtest_also_run_disabled_tests"});
        QByteArray said;
        for (int seconds = 0; seconds < 20 && !said.contains("edited"); ++seconds) {
            program.waitForReadyRead(1000);
            said += program.readAllStandardOutput();
        }
        ASSERT_TRUE(said.contains("edited")) << said.toStdString();
        ::kill(static_cast<pid_t>(program.processId()), signal);
        ASSERT_TRUE(program.waitForFinished(10'000)) << "it did not end";
    }
    void leave_work(const QString& name) {
        MainWindow other;
        other.session().replace_study(brightwater_study());
        other.session().edit("name", [&](Study& s) {
            s.name = name.toStdString();
            s.channels[0].edit().stages.pop_back();
        });
        other.files().leave(EndedBy::crash);
        QTest::qWait(15); // another moment in the file system's times
    }
};

TEST_F(Ending, TermKeepsTheWorkAndSaysThatItWasNoCrash) {
    end_program_with(SIGTERM);
    const auto works = window->files().recoverable();
    ASSERT_EQ(works.size(), 1u);
    EXPECT_EQ(works[0].ended_by, EndedBy::request);
    EXPECT_EQ(works[0].name, "Edited to the last moment");
    window->offer_recovery();
    EXPECT_TRUE(window->message()->text().contains("was told to end"))
        << window->message()->text().toStdString();
    EXPECT_FALSE(window->message()->text().contains("crash"));
}

// Run as a program of its own by the test above; what main() connects.
class EndedProgram : public test::Window {};
TEST_F(EndedProgram, DISABLED_EditsUntilItIsEnded) {
    EndSignals ends;
    QObject::connect(&ends, &EndSignals::end_asked_for, &MainWindow::end_all_on_request);
    session().edit("name", [](Study& s) { s.name = "Edited to the last moment"; });
    std::puts("edited");
    std::fflush(stdout);
    QApplication::exec();
    std::_Exit(0); // what was kept must not be cleared up by the test's own end
}

TEST_F(Ending, NothingIsKeptWhereNothingIsUnsaved) {
    MainWindow other;
    other.show();
    other.end_on_request();
    EXPECT_FALSE(other.isVisible());
    EXPECT_TRUE(window->files().recoverable().empty());
}

TEST_F(Ending, AllLostWorkIsListedNewestFirst) {
    leave_work("First");
    leave_work("Second");
    window->offer_recovery();
    EXPECT_TRUE(window->message()->text().contains("Second")) << "one, the newest";
    const auto buttons = window->message()->findChildren<QPushButton*>();
    const auto all = std::ranges::find_if(
        buttons, [](const QPushButton* button) { return button->text().startsWith("All 2"); });
    ASSERT_NE(all, buttons.end());
    (*all)->click();
    auto* dialog = window->findChild<RecoveryDialog*>();
    ASSERT_NE(dialog, nullptr);
    const QTableWidget& table = *dialog->table();
    ASSERT_EQ(table.rowCount(), 2);
    EXPECT_EQ(table.item(0, 1)->text(), "Second");
    EXPECT_EQ(table.item(1, 1)->text(), "First");
    EXPECT_EQ(table.item(0, 2)->text(), "never saved");
    EXPECT_TRUE(table.item(0, 3)->text().contains("stages added"))
        << "the size of the change: " << table.item(0, 3)->text().toStdString();
    // The older one beside the present study.
    dialog->table()->setCurrentCell(1, 0);
    dialog->beside_button()->click();
    MainWindow* beside = nullptr;
    for (QWidget* top : QApplication::topLevelWidgets()) {
        auto* other = qobject_cast<MainWindow*>(top);
        beside = other != nullptr && other != window.get() && other->isVisible() ? other : beside;
    }
    ASSERT_NE(beside, nullptr);
    EXPECT_EQ(beside->session().study().name, "First");
    EXPECT_EQ(session().study().name, "Brightwater dome") << "the present one stays";
    EXPECT_EQ(dialog->table()->rowCount(), 1);
    dialog->discard_button()->click();
    EXPECT_EQ(dialog->table()->rowCount(), 0);
    beside->session().mark_saved();
    beside->close();
}

TEST_F(Ending, TheSizeOfAChangeIsAgainstTheFile) {
    ASSERT_TRUE(save_study(brightwater_study(), scratch.file("dome.syntonon")));
    RecoveredWork work;
    work.original = QString::fromStdString(scratch.file("dome.syntonon").string());
    Study changed = brightwater_study();
    changed.channels[0].edit().stages.pop_back();
    changed.goals[0].edit().name = "another";
    ASSERT_TRUE(save_study(changed, scratch.file("copy.syntonon")));
    work.copy = QString::fromStdString(scratch.file("copy.syntonon").string());
    EXPECT_EQ(size_of_change(work), "1 stage removed, 1 goal changed");
}

TEST_F(Ending, CopiesFollowWithinAMoment) {
    const auto copies = [] { return QDir(Recovery::folder()).entryList({"*.syntonon"}).size(); };
    ASSERT_EQ(copies(), 0);
    session().edit("name", [](Study& s) { s.name = "Followed"; });
    // Waits for the copy, not for a time: how soon it comes is measured by kill-and-recover.
    ASSERT_TRUE(QTest::qWaitFor([&] { return copies() == 1; }, 10'000));
    static_assert(Recovery::soon_ms + Recovery::apart_ms < 200);
}

} // namespace
} // namespace syntonon
