// Grips, plumb line, goal handles on the lanes.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/model/goal_commands.h"
#include "app/model/target_commands.h"
#include "app/plot/plumb_readout.h"

#include "core/base/number_text.h"

#include <QWheelEvent>
#include <qcustomplot.h>

namespace syntonon {
namespace {

class Lanes : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        session().select_stage(id(4)); // the peak at 870 Hz
        lanes().setFocus();
    }
    QPointF grip() { return *lanes().stage_grips().grip_point(); }
};

TEST_F(Lanes, AxesMapBothWays) {
    for (const double hz : {20.0, 412.0, 20000.0}) {
        EXPECT_NEAR(lanes().hz_at(lanes().x_of(hz)), hz, hz * 1e-9);
    }
    EXPECT_NEAR(lanes().value_at(Lane::phase, lanes().y_of(Lane::phase, 33)), 33, 1e-9);
    EXPECT_LT(lanes().rect_of(Lane::magnitude).bottom(), lanes().rect_of(Lane::phase).top());
    EXPECT_EQ(lanes().rect_of(Lane::phase).left(), lanes().rect_of(Lane::delay).left());
    // What our mapping says is where the plot itself draws.
    EXPECT_NEAR(lanes().frequency_axis(Lane::magnitude)->coordToPixel(412), lanes().x_of(412), 1.5);
    EXPECT_NEAR(lanes().value_axis(Lane::magnitude)->coordToPixel(6),
                lanes().y_of(Lane::magnitude, 6), 1.5);
}

TEST_F(Lanes, DraggingTheGripSetsFrequencyAndGainAsOneStep) {
    const QPointF to(lanes().x_of(2000), lanes().y_of(Lane::magnitude, 5));
    drag(lanes(), grip(), to);
    EXPECT_NEAR(spec(4).frequency_hz, 2000, 30);
    EXPECT_NEAR(spec(4).gain_db, 5, 0.15);
    EXPECT_EQ(session().history().count(), 1);
    EXPECT_TRUE(undo_name().startsWith("Move Peak")) << undo_name().toStdString();
    session().history().undo();
    EXPECT_EQ(spec(4).frequency_hz, 870);
    EXPECT_EQ(spec(4).gain_db, -4.6);
}

TEST_F(Lanes, ShiftIsFineAndControlLocksAnAxis) {
    const QPointF from = grip();
    drag(lanes(), from, from + QPointF(100, 0), Qt::ShiftModifier);
    EXPECT_NEAR(lanes().x_of(spec(4).frequency_hz) - from.x(), 10, 1);
    session().history().undo();
    drag(lanes(), from, from + QPointF(80, 30), Qt::ControlModifier);
    EXPECT_EQ(spec(4).gain_db, -4.6);
    EXPECT_GT(spec(4).frequency_hz, 1500);
}

TEST_F(Lanes, EscapeTakesTheDragBackForGood) {
    drag(lanes(), grip(), grip() + QPointF(60, -40), {}, false);
    EXPECT_NE(spec(4).frequency_hz, 870);
    QTest::keyClick(&lanes(), Qt::Key_Escape);
    EXPECT_EQ(spec(4).frequency_hz, 870);
    EXPECT_FALSE(session().history().canRedo()) << "a cancelled drag cannot come back";
    QTest::mouseRelease(&lanes(), Qt::LeftButton);
    EXPECT_FALSE(session().is_modified());
}

TEST_F(Lanes, SideGripsAndWheelChangeTheWidth) {
    const QPointF side = *lanes().stage_grips().grip_point("high side");
    drag(lanes(), side, side + QPointF(40, 0));
    const double wider = spec(4).width.value;
    EXPECT_LT(wider, 1.4);
    QWheelEvent wheel(grip(), lanes().mapToGlobal(grip()), {}, {0, -120}, Qt::NoButton,
                      Qt::NoModifier, Qt::NoScrollPhase, false);
    QApplication::sendEvent(&lanes(), &wheel);
    EXPECT_GT(spec(4).width.value, wider);
    EXPECT_EQ(spec(4).width.kind, WidthKind::q) << "what the user chose to say stays";
}

TEST_F(Lanes, ArrowKeysNudgeAsOneStep) {
    for (int i = 0; i < 24; ++i) {
        QTest::keyClick(&lanes(), Qt::Key_Right);
    }
    EXPECT_NEAR(spec(4).frequency_hz, 1740, 1e-6);
    QTest::keyClick(&lanes(), Qt::Key_Up);
    EXPECT_NEAR(spec(4).gain_db, -4.1, 1e-9);
    QTest::keyClick(&lanes(), Qt::Key_Up, Qt::ShiftModifier);
    EXPECT_NEAR(spec(4).gain_db, -4.05, 1e-9);
    QTest::keyClick(&lanes(), Qt::Key_PageUp);
    EXPECT_LT(spec(4).width.value, 1.4);
    session().history().undo();
    session().history().undo();
    EXPECT_EQ(spec(4).frequency_hz, 870) << "all nudges in a row are one step";
}

TEST_F(Lanes, NothingCanBeDraggedWhereItCannotBeDesigned) {
    session().select_stage(id(4));
    drag(lanes(), grip(), QPointF(3000, -3000));
    EXPECT_TRUE(session().analysis()->problems.empty());
    EXPECT_LT(spec(4).frequency_hz, 24000);
    session().history().undo();
    drag(lanes(), grip(), QPointF(-3000, 3000));
    EXPECT_TRUE(session().analysis()->problems.empty());
    EXPECT_TRUE(lanes().stage_grips().grip_point()->y() < lanes().rect_of(Lane::magnitude).bottom())
        << "the handle stays in reach";
}

TEST_F(Lanes, EveryShapeHasAGripThatDoesWhatItSays) {
    for (const ParametricShape shape : all_parametric_shapes) {
        for (const int order : {1, 2}) {
            if (order == 1 && !has_first_order(shape)) {
                continue;
            }
            session().edit_stage("test", [&](Stage& s) {
                auto& p = std::get<ParametricSpec>(s.spec.edit());
                p = ParametricSpec{};
                p.shape = shape;
                p.order = order;
            });
            ASSERT_TRUE(lanes().stage_grips().grip_point().has_value()) << key_of(shape);
            drag(lanes(), grip(), {lanes().x_of(3000), lanes().y_of(Lane::magnitude, 4)});
            EXPECT_NEAR(spec(4).frequency_hz, 3000, 50) << key_of(shape) << order;
            const bool level_is_q =
                order == 2
                && (shape == ParametricShape::low_pass || shape == ParametricShape::high_pass);
            if (level_is_q) {
                EXPECT_NEAR(parametric_filter(spec(4), 48000)
                                ->response_at(spec(4).frequency_hz, 48000)
                                .magnitude_db,
                            4, 0.2);
            }
        }
    }
}

TEST_F(Lanes, ThePlumbLineFollowsThePointerUntilPinned) {
    const QPointF at(lanes().x_of(412), lanes().rect_of(Lane::phase).center().y());
    hover(lanes(), at);
    EXPECT_NEAR(*session().plumb().hz(), 412, 1);
    QTest::mouseClick(&lanes(), Qt::LeftButton, {}, at.toPoint());
    EXPECT_TRUE(session().plumb().is_pinned());
    hover(lanes(), at + QPointF(100, 0));
    EXPECT_NEAR(*session().plumb().hz(), 412, 3);
    QTest::mouseClick(&lanes(), Qt::LeftButton, {}, (at + QPointF(50, 0)).toPoint());
    EXPECT_FALSE(session().plumb().is_pinned());
}

TEST_F(Lanes, PredictedPhaseAndDelayAreShownOnRequest) {
    const auto reads = [&](const QString& name) {
        const auto rows = lanes().curves().readout_at(1000);
        return std::ranges::find(rows, name, &ReadoutRow::name) != rows.end();
    };
    EXPECT_FALSE(reads("predicted phase"));
    lanes().show_curve("predicted_timing", true);
    EXPECT_TRUE(reads("predicted phase"));
    EXPECT_TRUE(reads("predicted delay"));
    session().edit("no phase", [](Study& s) { s.channels[0].edit().measured.clear(); });
    EXPECT_FALSE(reads("predicted phase"));
}

TEST_F(Lanes, TheReadoutSaysEveryCurvesValue) {
    session().plumb().set(870.0);
    const auto rows = lanes().curves().readout_at(870);
    const auto value = [&](const QString& name) {
        for (const ReadoutRow& row : rows) {
            if (row.name == name) {
                return row.value;
            }
        }
        return QString("absent");
    };
    EXPECT_EQ(value("stage"), "−4.60 dB");
    const CurveReader& measured = session().analysis()->measured->reader;
    EXPECT_EQ(value("measured"),
              QString::fromStdString(signed_text(measured.magnitude_db_at(870), 2)) + " dB");
    for (const char* name : {"predicted", "goal", "chain", "phase", "group delay"}) {
        EXPECT_NE(value(name), "absent") << name;
    }
}

TEST_F(Lanes, KeysMoveAndPinThePlumbLine) {
    shortcut(Qt::Key_P, Qt::AltModifier);
    ASSERT_TRUE(session().plumb().hz().has_value());
    const double start = *session().plumb().hz();
    shortcut(Qt::Key_Right, Qt::AltModifier);
    EXPECT_NEAR(*session().plumb().hz() / start, std::exp2(1 / 24.0), 1e-9);
    shortcut(Qt::Key_P, Qt::AltModifier);
    EXPECT_FALSE(session().plumb().hz().has_value());
}

TEST_F(Lanes, RangesChangeOnlyWhenAsked) {
    const LaneRange before = lanes().range(Lane::magnitude);
    session().edit_stage("huge",
                         [](Stage& s) { std::get<ParametricSpec>(s.spec.edit()).gain_db = 60; });
    EXPECT_EQ(lanes().range(Lane::magnitude), before);
    lanes().change_range(Lane::magnitude, {-60, 20, 20});
    EXPECT_EQ(lanes().range(Lane::magnitude).low, -60);
}

class GoalHandles : public Lanes {
protected:
    void SetUp() override {
        Lanes::SetUp();
        window->show_goal();
    }
    const Goal& goal() { return *current_goal(session()); }
};

TEST_F(GoalHandles, DragATargetPointBetweenItsNeighbours) {
    const QPointF at = lanes().goal_grips().point_at(2);
    drag(lanes(), at, {lanes().x_of(500), lanes().y_of(Lane::magnitude, 3)});
    EXPECT_NEAR(goal().target.points[2].frequency_hz, 500, 10);
    EXPECT_NEAR(goal().target.points[2].value, 3, 0.15);
    EXPECT_EQ(undo_name(), "Move a target point");
    drag(lanes(), lanes().goal_grips().point_at(2),
         QPointF(lanes().x_of(21), lanes().y_of(Lane::magnitude, 0)));
    EXPECT_GT(goal().target.points[2].frequency_hz, goal().target.points[1].frequency_hz);
}

TEST_F(GoalHandles, ADoubleClickOnTheTargetMakesAPointAndDeleteTakesIt) {
    const QPointF at(lanes().x_of(4000),
                     lanes().y_of(Lane::magnitude, target_level_at(session(), 4000)));
    QTest::mouseDClick(&lanes(), Qt::LeftButton, {}, at.toPoint());
    ASSERT_EQ(goal().target.points.size(), 5u);
    EXPECT_NEAR(goal().target.points[3].frequency_hz, 4000, 30);
    QTest::mouseClick(&lanes(), Qt::LeftButton, {}, lanes().goal_grips().point_at(3).toPoint());
    QTest::keyClick(&lanes(), Qt::Key_Delete);
    EXPECT_EQ(goal().target.points.size(), 4u);
    EXPECT_EQ(stages(), 6u) << "Delete meant the point, not the stage";
}

TEST_F(GoalHandles, DragACorridorEdge) {
    const double middle = std::sqrt(250.0 * 16000.0);
    const QPointF upper(lanes().x_of(middle),
                        lanes().y_of(Lane::magnitude, target_level_at(session(), middle) + 2));
    drag(lanes(), upper,
         {upper.x(), lanes().y_of(Lane::magnitude, target_level_at(session(), middle) + 3.5)});
    EXPECT_NEAR(*goal().corridor[1].above_db, 3.5, 0.15);
    EXPECT_EQ(*goal().corridor[1].below_db, 2);
    const QPointF end(lanes().x_of(16000) - 5,
                      lanes().y_of(Lane::magnitude, target_level_at(session(), 16000)));
    drag(lanes(), end, {lanes().x_of(9000), end.y()});
    EXPECT_NEAR(goal().corridor[1].to_hz, 9000, 300);
}

TEST_F(GoalHandles, AreOutOfReachWhileTheGoalIsNotShown) {
    window->upper()->show_page(0);
    const QPointF at = lanes().goal_grips().point_at(2);
    drag(lanes(), at, at + QPointF(40, 40));
    EXPECT_EQ(goal().target.points[2].frequency_hz, 1000);
}

} // namespace
} // namespace syntonon
