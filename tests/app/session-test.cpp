// Edits, undo, gestures, selection: without a window.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/session.h"

#include "app/model/corridor_commands.h"
#include "app/model/goal_commands.h"
#include "app/model/stage_commands.h"
#include "app/model/take_commands.h"
#include "app/model/target_commands.h"
#include "core/study/kinds.h"
#include "demo/brightwater.h"

#include <QSignalSpy>
#include <QTest>
#include <gtest/gtest.h>
#include <set>

namespace syntonon {
namespace {

class SessionTest : public testing::Test {
protected:
    SessionTest() { session.replace_study(brightwater_study()); }

    std::string id(std::size_t stage) { return session.channel()->stages.at(stage)->id; }
    double gain() { return std::get<ParametricSpec>(*session.channel()->stages[4]->spec).gain_db; }
    void set_gain(double db, const QString& gesture = {}) {
        session.select_stage(id(4));
        session.edit_stage(
            "Gain", [db](Stage& s) { std::get<ParametricSpec>(s.spec.edit()).gain_db = db; },
            gesture);
    }

    Session session;
};

TEST_F(SessionTest, EditsAreStepsThatCanBeTakenBack) {
    set_gain(-1);
    set_gain(-2);
    EXPECT_EQ(session.history().count(), 2);
    session.history().undo();
    EXPECT_EQ(gain(), -1);
    session.history().undo();
    EXPECT_EQ(gain(), -4.6);
    EXPECT_FALSE(session.is_modified());
    session.history().redo();
    EXPECT_EQ(gain(), -1);
}

TEST_F(SessionTest, AnEditThatChangesNothingIsNoStep) {
    set_gain(-4.6);
    EXPECT_EQ(session.history().count(), 0);
    EXPECT_FALSE(session.is_modified());
}

TEST_F(SessionTest, AGestureIsOneStep) {
    const QString gesture = session.new_gesture();
    for (int i = 0; i < 50; ++i) {
        set_gain(i * 0.1, gesture);
    }
    EXPECT_EQ(session.history().count(), 1);
    set_gain(9, session.new_gesture());
    EXPECT_EQ(session.history().count(), 2);
    session.history().undo();
    EXPECT_NEAR(gain(), 4.9, 1e-12);
    session.history().undo();
    EXPECT_EQ(gain(), -4.6);
}

TEST_F(SessionTest, ACancelledGestureLeavesNoTrace) {
    const QString gesture = session.new_gesture();
    set_gain(3, gesture);
    EXPECT_TRUE(session.cancel_gesture(gesture));
    EXPECT_EQ(gain(), -4.6);
    EXPECT_EQ(session.history().count(), 0);
    EXPECT_FALSE(session.cancel_gesture(gesture)) << "nothing is left to cancel";
    set_gain(1);
    EXPECT_FALSE(session.cancel_gesture(gesture)) << "another's step is not touched";
    EXPECT_EQ(gain(), 1);
}

TEST_F(SessionTest, ContinuingGesturesEndWithAPauseOrAnotherThing) {
    const QString first = session.continuing_gesture("a");
    EXPECT_EQ(session.continuing_gesture("a"), first);
    EXPECT_NE(session.continuing_gesture("b"), first);
    const QString again = session.continuing_gesture("a");
    QTest::qWait(1100);
    EXPECT_NE(session.continuing_gesture("a"), again);
}

TEST_F(SessionTest, UndoBringsBackWhereTheChangeWas) {
    session.select({1, "s3"});
    session.edit_stage("Off", [](Stage& s) { s.enabled = false; });
    session.select({0, "s6"});
    session.history().undo();
    EXPECT_EQ(session.selection(), (Selection{1, "s3"}));
}

TEST_F(SessionTest, HistorySharesWhatDidNotChange) {
    const Curve* curve = &*session.study().curves[0];
    const Channel* other = &*session.study().channels[1];
    for (int i = 0; i < 20; ++i) {
        set_gain(i);
    }
    EXPECT_EQ(&*session.study().curves[0], curve) << "curves are not copied by edits of a stage";
    EXPECT_EQ(&*session.study().channels[1], other);
}

TEST_F(SessionTest, SelectionStaysInRange) {
    session.select({99, "s1"});
    EXPECT_EQ(session.selection(), (Selection{6, "s1"}));
    session.select({-5, "nobody"});
    EXPECT_EQ(session.selection(), (Selection{0, ""}));
    session.select_stage(id(5));
    remove_stage(session, id(5));
    EXPECT_EQ(session.selection().stage, id(4));
    session.edit("None", [](Study& s) { s.channels.clear(); });
    EXPECT_EQ(session.channel(), nullptr);
    EXPECT_EQ(session.stage(), nullptr);
    EXPECT_EQ(session.analysis(), nullptr);
    EXPECT_FALSE(session.point_at(100).has_value());
    session.edit_stage("Nothing there", [](Stage&) { FAIL(); });
    session.history().undo();
    EXPECT_NE(session.analysis(), nullptr);
}

TEST_F(SessionTest, SignalsSayWhatChanged) {
    QSignalSpy study(&session, &Session::study_changed),
        selection(&session, &Session::selection_changed),
        analysis(&session, &Session::analysis_changed),
        plumb(&session.plumb(), &PlumbLine::changed);
    session.select_stage(id(2));
    EXPECT_EQ(selection.count(), 1);
    EXPECT_EQ(study.count() + analysis.count(), 0) << "looking is not changing";
    session.select_stage(id(2));
    EXPECT_EQ(selection.count(), 1) << "nothing new";
    session.select_channel(1);
    EXPECT_EQ(analysis.count(), 1);
    session.plumb().set(100);
    session.plumb().set(100);
    EXPECT_EQ(plumb.count(), 1);
    session.plumb().set(std::nullopt);
    session.plumb().pin(true);
    EXPECT_FALSE(session.plumb().is_pinned()) << "there is nothing to pin";
}

TEST_F(SessionTest, SavingMovesTheCleanState) {
    set_gain(1);
    session.mark_saved();
    EXPECT_FALSE(session.is_modified());
    session.history().undo();
    EXPECT_TRUE(session.is_modified());
    session.history().redo();
    EXPECT_FALSE(session.is_modified());
    session.mark_recovered();
    EXPECT_TRUE(session.is_modified());
    session.mark_saved();
    EXPECT_FALSE(session.is_modified());
}

TEST_F(SessionTest, StageCommandsIgnoreWhatIsNotThere) {
    const Study before = session.study();
    remove_stage(session, "");
    remove_stage(session, "s99");
    duplicate_stage(session, "s99");
    move_stage(session, "s99", {});
    move_stage(session, id(2), {{}, 0, 2});
    move_stage(session, id(2), {"nobody", 0, 0});
    shift_stage(session, id(0), -1);
    switch_stage(session, "", false);
    copy_stage_to(session, id(0), 99);
    rename_stage(session, "s99", "x");
    remove_channel(session, 99);
    rename_channel(session, 0, "   ");
    remove_target_points(session, {99});
    remove_corridor_range(session, -1);
    EXPECT_EQ(session.study(), before);
    EXPECT_EQ(session.history().count(), 0);
}

TEST_F(SessionTest, CopiesAndDuplicatesHaveIdsOfTheirOwn) {
    duplicate_stage(session, id(0));
    copy_stage_to(session, id(0), 1);
    copy_stage_to(session, id(0), 0);
    for (const auto& channel : session.study().channels) {
        std::set<std::string> ids;
        for (const auto& stage : channel->stages) {
            EXPECT_TRUE(ids.insert(stage->id).second) << stage->id;
        }
    }
    EXPECT_EQ(session.study().channels[0]->stages.size(), 8u);
}

TEST_F(SessionTest, ChannelsComeAndGo) {
    add_channel(session);
    EXPECT_EQ(session.channel()->name, "Channel 8");
    EXPECT_EQ(session.channel()->goal, "dome") << "it starts with the goal that was in view";
    rename_channel(session, 7, "Dusk");
    EXPECT_EQ(session.channel()->name, "Dusk");
    for (int i = 7; i >= 0; --i) {
        remove_channel(session, i);
    }
    EXPECT_EQ(session.study().channels.size(), 1u) << "the last one stays";
}

TEST_F(SessionTest, TargetPointsStayInOrder) {
    add_target_point(session, 300, 1);
    EXPECT_TRUE(check(*current_goal(session)));
    add_target_point(session, 300, 2);
    EXPECT_EQ(current_goal(session)->target.points.size(), 5u)
        << "the same frequency moves the point";
    EXPECT_EQ(target_level_at(session, 300), 2);
    move_target_points(session, {2}, 1.0 / 60, 0); // far beyond its neighbour at 60 Hz
    const double held = current_goal(session)->target.points[2].frequency_hz;
    EXPECT_GT(held, 60);
    EXPECT_LT(held, 61);
}

TEST_F(SessionTest, TakesIgnoreWhatIsNotThere) {
    const Study before = session.study();
    rename_take(session, 9, "x");
    rename_take(session, 0, "  ");
    rename_take(session, 0, "as built");
    show_take(session, -1, false);
    show_take(session, 0, true);
    show_only_take(session, 3);
    restore_take(session, 3);
    remove_take(session, 3);
    EXPECT_EQ(session.study(), before);
    EXPECT_EQ(session.history().count(), 0) << "what changes nothing is no step";
    freeze_take(session, "mine");
    EXPECT_EQ(session.channel()->takes.back()->name, "mine");
    EXPECT_EQ(session.history().undoText(), "Freeze the take “mine”");
    restore_take(session, 0);
    EXPECT_TRUE(session.channel()->stages.empty());
    EXPECT_EQ(session.channel()->takes.size(), 4u) << "the take stays";
}

TEST_F(SessionTest, MovedPointsNeverPassOthers) {
    TargetLine line;
    line.points = {{100, 0, {}}, {200, 0, {}}, {200, -6, {}}, {400, 0, {}}};
    TargetLine moved = line;
    move_points(moved, {1}, 1.5, 2);
    EXPECT_DOUBLE_EQ(moved.points[1].frequency_hz, 300);
    EXPECT_DOUBLE_EQ(moved.points[2].frequency_hz, 300) << "the jump stays a jump";
    EXPECT_DOUBLE_EQ(moved.points[1].value, 2);
    EXPECT_DOUBLE_EQ(moved.points[2].value, -6) << "only the chosen one changes its level";
    moved = line;
    move_points(moved, {1, 2}, 10, 0);
    EXPECT_LT(moved.points[2].frequency_hz, 400);
    EXPECT_GT(moved.points[2].frequency_hz, 399);
    moved = line;
    move_points(moved, {0, 1, 2, 3}, 2, 1);
    EXPECT_DOUBLE_EQ(moved.points[3].frequency_hz, 800) << "all together are free";
    EXPECT_TRUE(check(moved, "value"));
}

TEST_F(SessionTest, HeldPointsGoWhenTheirsDo) {
    session.held().hold({0, 3});
    remove_target_points(session, {3});
    EXPECT_EQ(session.held().points(), (std::set<int>{0}));
    session.select_channel(1);
    EXPECT_TRUE(session.held().points().empty());
}

TEST_F(SessionTest, AGoalsTargetIsKeptInOneForm) {
    edit_goal(session, "house", [](Goal& goal) {
        goal.target.points.clear();
        goal.target.house.emplace();
    });
    add_target_point(session, 500, 3);
    EXPECT_FALSE(current_goal(session)->target.house) << "a point makes it points";
    EXPECT_EQ(current_goal(session)->target.points.size(), 5u);
    EXPECT_TRUE(check(*current_goal(session)));
    EXPECT_NEAR(target_level_at(session, 500), 3, 1e-12);
}

} // namespace
} // namespace syntonon
