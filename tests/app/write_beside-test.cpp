// Writing that may be slow: who waits for it, and what is said meanwhile.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/write_beside.h"

#include "app/desks/deliver_desk.h"
#include "app/panes/deliver/delivery_card.h"
#include "app/panes/deliver/delivery_preview.h"
#include "core/study/study_json.h"
#include "tests/app/slow_disk.h"
#include "tests/app/window_fixture.h"

#include <QFile>
#include <QSemaphore>
#include <atomic>
#include <optional>

namespace syntonon {
namespace {

constexpr int patience_ms = 60'000;

TEST(WriteBeside, WhatIsDoneAtOnceIsHandedOverAtOnce) {
    WriteBeside writer;
    int taken = 0;
    writer.begin([] { return 7; }, [&](int value) { taken = value; });
    EXPECT_EQ(taken, 7);
    EXPECT_FALSE(writer.is_busy());
}

TEST(WriteBeside, WhatTakesLongerIsHandedOverOnceAndDoesNotHoldUp) {
    WriteBeside writer;
    std::vector<int> taken;
    QSemaphore may_end; // had `begin` waited for the work, it would never come back
    const auto begin = [&](int value) {
        writer.begin(
            [&may_end, value] {
                may_end.acquire();
                return value;
            },
            [&](int done) { taken.push_back(done); });
    };
    begin(7);
    EXPECT_TRUE(writer.is_busy());
    EXPECT_TRUE(taken.empty());
    may_end.release();
    EXPECT_TRUE(QTest::qWaitFor([&] { return !writer.is_busy(); }, patience_ms));
    EXPECT_EQ(taken, std::vector<int>{7});
    // What was told of an earlier round, still among the events, is not taken for the next one.
    begin(8);
    may_end.release();
    writer.finish();
    begin(9);
    QApplication::processEvents();
    EXPECT_EQ(taken, (std::vector<int>{7, 8}));
    may_end.release();
    writer.finish();
    EXPECT_EQ(taken, (std::vector<int>{7, 8, 9}));
}

TEST(WriteBeside, GoingAwayWaitsAndHandsNothingOver) {
    std::atomic<bool> is_done = false;
    bool is_taken = false;
    QSemaphore may_end;
    {
        WriteBeside writer;
        writer.begin(
            [&] {
                may_end.acquire();
                QTest::qSleep(50); // who does not wait is gone by then
                is_done = true;
                return 0;
            },
            [&](int) { is_taken = true; });
        may_end.release();
    }
    EXPECT_TRUE(is_done);
    QApplication::processEvents();
    EXPECT_FALSE(is_taken);
}

class SlowVolume : public test::Window {
protected:
    QString file(const char* name) { return QString::fromStdString(scratch.file(name).string()); }
    void rename_channel(const std::string& name) {
        session().edit_channel("rename", [&](Channel& c) { c.name = name; });
    }
    Study saved(const char* name) { return load_study(scratch.file(name))->study; }
};

TEST_F(SlowVolume, WorkGoesOnWhileTheStudyIsSavedAndStaysUnsaved) {
    ASSERT_TRUE(window->files().save_as(file("a.syntonon")));
    rename_channel("First");
    const Study asked_for = session().study();
    {
        test::SlowDisk slow;
        window->save();
        ASSERT_TRUE(window->files().is_saving());
        EXPECT_TRUE(window->message()->text().contains("is being saved"));
        rename_channel("Second");
        slow.release();
        ASSERT_TRUE(QTest::qWaitFor([&] { return !window->files().is_saving(); }, patience_ms));
    }
    EXPECT_TRUE(window->message()->text().contains("a.syntonon is saved"));
    EXPECT_EQ(saved("a.syntonon"), asked_for);
    EXPECT_TRUE(session().is_modified()) << "the second name is on no disk";
    window->files().keep_recovery_copy();
    session().go_back_to_saved();
    EXPECT_EQ(session().study(), asked_for);
}

TEST_F(SlowVolume, SavingAgainMeanwhileSavesTheNewestToo) {
    ASSERT_TRUE(window->files().save_as(file("a.syntonon")));
    rename_channel("First");
    test::SlowDisk slow;
    window->save();
    rename_channel("Second");
    window->save();
    window->save();
    slow.release();
    window->finish_writing();
    EXPECT_EQ(saved("a.syntonon"), session().study());
    EXPECT_FALSE(session().is_modified());
}

TEST_F(SlowVolume, ARefusalThatComesLateIsSaidAndLosesNothing) {
    ASSERT_TRUE(window->files().save_as(file("a.syntonon")));
    rename_channel("First");
    {
        test::SlowDisk slow;
        window->save();
        ASSERT_TRUE(window->files().is_saving());
        // Meanwhile something takes the place of the file.
        QFile::remove(file("a.syntonon"));
        std::filesystem::create_directories(scratch.file("a.syntonon") / "in the way");
        slow.release();
        window->finish_writing();
    }
    EXPECT_TRUE(window->message()->text().contains("a.syntonon"));
    EXPECT_FALSE(window->message()->text().contains("is saved"));
    EXPECT_TRUE(session().is_modified());
}

TEST_F(SlowVolume, FilesOfADeliveryAreWrittenBesideTheWindow) {
    window->show_desk(Desk::deliver);
    DeliverDesk& desk = window->deliver();
    desk.set_folder(file("out"));
    test::SlowDisk slow;
    desk.preview()->write_button()->click();
    EXPECT_TRUE(desk.preview()->status().contains("Being written"));
    EXPECT_FALSE(desk.preview()->write_button()->isEnabled());
    EXPECT_FALSE(desk.write_all_button()->isEnabled());
    const QString first = QString::fromStdString(session().study().deliveries.at(0).name);
    desk.choose("json"); // to look at another one meanwhile
    desk.refresh_now();
    EXPECT_FALSE(desk.preview()->write_button()->isEnabled());
    slow.release();
    desk.finish_writing();
    EXPECT_TRUE(desk.preview()->status().contains(first)) << "whose files, since another is shown";
    desk.refresh_now();
    EXPECT_EQ(desk.cards().at(0)->state().standing, DeliveryStanding::as_study);
    EXPECT_TRUE(desk.preview()->write_button()->isEnabled());
    EXPECT_TRUE(desk.write_all_button()->isEnabled());
}

} // namespace
} // namespace syntonon
