// A number on the knob under the lanes.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/desks/shape_desk.h"
#include "app/model/stage_commands.h"
#include "app/panes/sweep_bar.h"
#include "app/widgets/knob_bar.h"
#include "app/widgets/quantity_edit.h"
#include "core/base/file.h"

#include <QDir>
#include <QImage>
#include <QToolButton>

namespace syntonon {
namespace {

class KnobUnderLanes : public test::Window {
protected:
    SweepBar& bar() { return *window->shape().sweep_bar(); }
    void put(StageSpec spec) {
        add_stage(session(), std::move(spec));
        window->shape().show_sweep_bar(true);
        QApplication::processEvents();
    }
    const RecursionSpec& recursion() { return std::get<RecursionSpec>(*session().stage()->spec); }
};

TEST_F(KnobUnderLanes, TurnsAnyNumberAsOneStep) {
    put(RecursionSpec{{1}, {1, -0.5}, {}});
    bar().sweep().take(session().selection().stage, "a[1]");
    EXPECT_TRUE(bar().chooser()->text().startsWith("a1 of"))
        << bar().chooser()->text().toStdString();
    const int before = session().history().index();
    KnobBar& knob = *bar().knob();
    drag(knob, {knob.x_of(-0.5), 15}, {knob.x_of(0.25), 15});
    EXPECT_NEAR(recursion().a[1], 0.25, 0.02);
    EXPECT_EQ(session().history().index(), before + 1);
    EXPECT_TRUE(undo_name().startsWith("Turn a1 of")) << undo_name().toStdString();
    session().history().undo();
    EXPECT_EQ(recursion().a[1], -0.5);
    EXPECT_NEAR(*bar().value()->value(), -0.5, 1e-12);
}

TEST_F(KnobUnderLanes, MarksWhereTheChainTurnsUnstable) {
    put(RecursionSpec{{1}, {1, -1.2, 0.8}, {}});
    bar().sweep().take(session().selection().stage, "a[1]");
    bar().sweep().set_range({-3, 3});
    ASSERT_EQ(bar().knob()->marks().size(), 2u);
    EXPECT_NEAR(bar().knob()->marks()[0].value, -1.8, 1e-8);
    EXPECT_EQ(bar().knob()->marks()[1].words, "unstable from 1.8");
    bar().sweep().turn_to(2, {});
    EXPECT_TRUE(bar().words().contains("grows")) << bar().words().toStdString();
}

TEST_F(KnobUnderLanes, RunsBackAndForthUntilItIsStopped) {
    put(RecursionSpec{{1}, {1, -0.5}, {}});
    bar().sweep().take(session().selection().stage, "a[1]");
    const int before = session().history().index();
    bar().runs()->setChecked(true);
    QTest::qWait(300);
    const double one = recursion().a[1];
    EXPECT_NE(one, -0.5);
    bar().runs()->setChecked(false);
    QTest::qWait(100);
    const double rest = recursion().a[1];
    QTest::qWait(100);
    EXPECT_EQ(recursion().a[1], rest);
    EXPECT_EQ(session().history().index(), before + 1);
}

TEST_F(KnobUnderLanes, TheStepResponseIsSaidBesideIt) {
    session().edit_channel("alone", [](Channel& c) { c.stages.clear(); });
    RecursionSpec smoother;
    smoother.start = RecursionStart{.form = RecursionForm::smoother};
    put(smoother);
    bar().take_something();
    EXPECT_TRUE(bar().words().contains("overshoot 0 %")) << bar().words().toStdString();
    // 1 ms to 2 % of the rest: ln 50 time constants.
    EXPECT_TRUE(bar().words().contains("3.9")) << bar().words().toStdString();
}

TEST_F(KnobUnderLanes, AFamilyIsFrozenOrHandedOut) {
    put(parametric(ParametricShape::peak, 1000, 6, 1));
    bar().sweep().take(session().selection().stage, "q");
    EXPECT_TRUE(bar().sweep().goes_by_ratio());
    const std::size_t takes = session().channel()->takes.size();
    const Study before = session().study();
    const QString picture = QString::fromStdString((scratch.folder() / "family.png").string());
    ASSERT_TRUE(bar().save_family(picture, 5));
    EXPECT_FALSE(QImage(picture).isNull());
    const auto table = scratch.folder() / "family.csv";
    ASSERT_TRUE(bar().save_family(QString::fromStdString(table.string()), 3));
    EXPECT_NE(read_file(table, 10'000'000)->find("Q 0.5 db"), std::string::npos);
    EXPECT_EQ(session().study(), before) << "nothing is left of it";
    bar().sweep().freeze_family(3);
    EXPECT_EQ(session().channel()->takes.size(), takes + 3);
}

TEST_F(KnobUnderLanes, IsAnimatedIntoPictures) {
    put(parametric(ParametricShape::peak, 1000, 6, 1));
    bar().sweep().take(session().selection().stage, "gain_db");
    const Study before = session().study();
    ASSERT_TRUE(bar().animate_into(QString::fromStdString(scratch.folder().string()), 4));
    const QDir folder(QString::fromStdString(scratch.folder().string()));
    EXPECT_EQ(folder.entryList({"sweep-*.png"}).size(), 4);
    EXPECT_NE(QImage(folder.filePath("sweep-0001.png")), QImage(folder.filePath("sweep-0004.png")));
    EXPECT_EQ(session().study(), before);
    EXPECT_FALSE(bar().animate_into("/nowhere/at/all", 2));
    EXPECT_EQ(session().study(), before);
}

TEST_F(KnobUnderLanes, BelongsToItsChannelAndRestsWhileHidden) {
    put(RecursionSpec{{1}, {1, -0.5}, {}});
    bar().sweep().take(session().selection().stage, "a[1]");
    session().edit("another", [](Study& study) {
        Channel other = *study.channels[0];
        other.id = other.name = "other";
        study.channels.emplace_back(other);
    });
    const int own = session().selection().channel;
    session().select_channel(static_cast<int>(session().study().channels.size()) - 1);
    EXPECT_FALSE(bar().sweep().knob()) << "the same id is another stage there";
    session().select_channel(own);
    EXPECT_TRUE(bar().sweep().knob());
    bar().runs()->setChecked(true);
    window->shape().show_sweep_bar(false);
    EXPECT_FALSE(bar().sweep().is_running());
}

TEST_F(KnobUnderLanes, ItsMarksFollowWhenTheRestOfTheStageRests) {
    put(RecursionSpec{{1}, {1, -1.2, 0.8}, {}});
    bar().sweep().take(session().selection().stage, "a[1]");
    bar().sweep().set_range({-3, 3});
    session().edit_stage("a2", [](Stage& s) { s.spec = RecursionSpec{{1}, {1, -1.2, 0.5}, {}}; });
    EXPECT_TRUE(bar().knob()->marks().empty()) << "not those of another stage";
    QTest::qWait(300);
    ASSERT_EQ(bar().knob()->marks().size(), 2u);
    EXPECT_NEAR(bar().knob()->marks()[1].value, 1.5, 1e-8);
}

TEST_F(KnobUnderLanes, GoesAwayWithItsStage) {
    put(parametric(ParametricShape::peak, 1000, 6, 1));
    bar().sweep().take(session().selection().stage, "q");
    remove_stage(session(), session().selection().stage);
    EXPECT_FALSE(bar().knob()->isEnabled());
    EXPECT_EQ(bar().chooser()->text(), "Choose a number");
}

} // namespace
} // namespace syntonon
