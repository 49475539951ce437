// The first hour: every step can be done, by being shown and by hand, and left; nothing of the
// user's is touched.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/tour/tour.h"
#include "tests/app/window_fixture.h"
#include "tests/support/places.h"

#include <QDirIterator>
#include <QFile>
#include <QLabel>
#include <QPointer>
#include <QProcess>
#include <QPushButton>

namespace syntonon {
namespace {

class TourOfWindow : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        tour = new Tour(*window);
        QTest::qWait(20);
    }
    QString all_text() const {
        QString text;
        for (const QLabel* label : tour->findChildren<QLabel*>()) {
            text += label->text() + '\n';
        }
        return text;
    }
    void press(QPushButton* button) { QTest::mouseClick(button, Qt::LeftButton); }

    QPointer<Tour> tour;
};

TEST_F(TourOfWindow, EveryStepIsDoneByBeingShown) {
    ASSERT_GT(tour->count(), 15);
    for (int step = 0; step < tour->count(); ++step) {
        ASSERT_EQ(tour->step(), step);
        if (tour->show_button()->isVisible()) {
            EXPECT_FALSE(tour->is_done()) << step << " was done before it began";
            press(tour->show_button());
            EXPECT_TRUE(QTest::qWaitFor([&] { return tour->is_done(); }, 20'000)) << step;
        }
        if (step + 1 < tour->count()) {
            press(tour->next_button());
        }
    }
}

TEST_F(TourOfWindow, AStepIsDoneByHand) {
    tour->go_to(1);
    EXPECT_FALSE(tour->is_done());
    QTest::mouseClick(window->rail()->cards().at(1), Qt::LeftButton);
    EXPECT_TRUE(tour->is_done());
    QTest::qWait(200);
    EXPECT_TRUE(all_text().contains("done"));
}

TEST_F(TourOfWindow, ThePanelFitsAndCoversNoButtonsOfItsPlace) {
    for (int step = 0; step < tour->count(); ++step) {
        tour->go_to(step);
        EXPECT_TRUE(window->rect().contains(tour->geometry())) << step;
        for (const QLabel* label : tour->findChildren<QLabel*>()) {
            EXPECT_GE(label->height(), label->heightForWidth(label->width())) << step;
        }
    }
}

TEST_F(TourOfWindow, IsLeftAtAnyStep) {
    for (const int step : {0, 5, tour->count() - 1}) {
        Tour* another = new Tour(*window);
        another->go_to(step);
        press(another->leave_button());
        EXPECT_FALSE(another->isVisible());
    }
    EXPECT_FALSE(session().is_modified()) << "leaving it asks about nothing";
    EXPECT_TRUE(window->isVisible());
}

TEST_F(TourOfWindow, EndsBehindItsLastStep) {
    tour->go_to(tour->count() - 1);
    press(tour->next_button());
    EXPECT_FALSE(tour->isVisible());
}

// The whole program, with a home of the user's that must stay as it is.
TEST(TourProgram, LeavesTheUsersFilesAlone) {
    const test::Scratch scratch;
    const QString home = QString::fromStdString(scratch.folder().string());
    QFile settings(home + "/config.ini");
    ASSERT_TRUE(settings.open(QIODevice::WriteOnly));
    settings.write("[mine]\n");
    settings.close();
    const auto files = [&] {
        QStringList all;
        for (QDirIterator at(home, QDir::AllEntries | QDir::Hidden | QDir::NoDotAndDotDot,
                             QDirIterator::Subdirectories);
             at.hasNext();) {
            all << at.next();
        }
        all.sort();
        return all;
    };
    const QStringList before = files();
    QProcess program;
    auto environment = QProcessEnvironment::systemEnvironment();
    environment.insert("QT_QPA_PLATFORM", "offscreen");
    for (const char* of :
         {"HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME", "XDG_STATE_HOME", "XDG_CACHE_HOME"}) {
        environment.insert(of, home);
    }
    program.setProcessEnvironment(environment);
    program.start(QString::fromStdString(test::app_program()), {"--tour"});
    ASSERT_TRUE(program.waitForStarted());
    EXPECT_FALSE(program.waitForFinished(3000)) << "it goes on until it is closed";
    program.terminate();
    EXPECT_TRUE(program.waitForFinished(10'000));
    EXPECT_EQ(files(), before);
}

} // namespace
} // namespace syntonon
