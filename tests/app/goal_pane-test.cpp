// Stating a goal in the window: each tab of the goal pane, and the handles on the lanes.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/model/goal_commands.h"
#include "app/model/target_commands.h"
#include "app/panes/goal/corridor_tab.h"
#include "app/panes/goal/house_curve_form.h"
#include "app/panes/goal/requirements_tab.h"
#include "app/panes/goal/target_tab.h"
#include "app/panes/goal/weights_tab.h"
#include "app/widgets/quantity_edit.h"

#include <QCheckBox>
#include <QComboBox>
#include <QMenu>
#include <QPushButton>

namespace syntonon {
namespace {

class GoalPaneTest : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        window->show_goal();
    }
    GoalPane& pane() { return *window->goal_pane(); }
    TargetTab& target() { return *pane().target_tab(); }
    const Goal& goal() { return *current_goal(session()); }
    void type_cell(QTableWidget* table, int row, int column, const QString& text) {
        table->item(row, column)->setText(text);
        QApplication::processEvents();
    }
    static QString cell(const QTableWidget* table, int row, int column) {
        return table->item(row, column)->text();
    }
    static void type(QuantityEdit* edit, const QString& text) {
        edit->setFocus();
        edit->selectAll();
        QTest::keyClick(edit, Qt::Key_Delete);
        QTest::keyClicks(edit, text);
        QTest::keyClick(edit, Qt::Key_Return);
        QApplication::processEvents();
    }
    static void choose(QComboBox* box, int index) {
        box->setCurrentIndex(index);
        emit box->activated(index);
        QApplication::processEvents();
    }
    void press(const QString& text) {
        for (QPushButton* button : pane().findChildren<QPushButton*>()) {
            if (button->text() == text && button->isVisible()) {
                QTest::mouseClick(button, Qt::LeftButton);
                QApplication::processEvents();
                return;
            }
        }
        FAIL() << text.toStdString();
    }
    QPointF on_lane(double hz, double db) {
        return {lanes().x_of(hz), lanes().y_of(Lane::magnitude, db)};
    }
};

TEST_F(GoalPaneTest, RatiosShowTheirDecibels) {
    pane().show_tab(1);
    choose(pane().level_choice(), 1);
    type_cell(pane().corridor_table(), 0, 2, "0.98");
    type_cell(pane().corridor_table(), 0, 3, "1.02");
    EXPECT_EQ(cell(pane().corridor_table(), 0, 2), "0.98 (−0.175 dB)");
    EXPECT_EQ(cell(pane().corridor_table(), 0, 3), "1.02 (+0.172 dB)");
    EXPECT_NEAR(*goal().corridor[0].below_db, 0.17547, 1e-4);
    choose(pane().level_choice(), 0);
    EXPECT_TRUE(cell(pane().corridor_table(), 0, 2).startsWith("−0.175"));
}

TEST_F(GoalPaneTest, CrossingEdgesAreRefusedAndNothingChanges) {
    pane().show_tab(1);
    const Goal before = goal();
    type_cell(pane().corridor_table(), 0, 2, "3");
    EXPECT_EQ(goal(), before);
    EXPECT_TRUE(pane().problem().contains("corridor[0]")) << pane().problem().toStdString();
    EXPECT_EQ(cell(pane().corridor_table(), 0, 2), "−2");
}

TEST_F(GoalPaneTest, ARangeBecomesAbsolute) {
    pane().show_tab(1);
    pane().corridor_table()->setCurrentCell(1, 0);
    press("Absolute");
    EXPECT_TRUE(goal().corridor[1].absolute);
    EXPECT_EQ(cell(pane().corridor_table(), 1, 4), "absolute");
    EXPECT_EQ(undo_name(), "Change what a corridor range is against");
}

TEST_F(GoalPaneTest, AHouseCurveIsStatedChangedAndKeptAsPoints) {
    choose(target().form_choice(), 1);
    ASSERT_TRUE(goal().target.house);
    EXPECT_TRUE(goal().target.points.empty());
    type(target().house()->edit(2), "3 dB");
    EXPECT_EQ(goal().target.house->rise_db_per_octave, 3);
    type(target().house()->edit(1), "0.1 kHz");
    EXPECT_EQ(goal().target.house->rise_below_hz, 100);
    type(target().house()->edit(4), "50");
    EXPECT_EQ(goal().target.house->fall_above_hz, 2000) << "below the rise: refused";
    EXPECT_TRUE(pane().problem().contains("house.fall_above_hz"));
    EXPECT_NEAR(target_level_at(session(), 50), 3, 1e-9) << "an octave below the rise";
    press("Keep as points");
    EXPECT_FALSE(goal().target.house);
    EXPECT_EQ(goal().target.points.size(), 4u);
    EXPECT_NEAR(target_level_at(session(), 50), 3, 1e-9) << "the same curve";
}

TEST_F(GoalPaneTest, ATargetFollowsACurveATakeAndAChannel) {
    choose(target().form_choice(), 2);
    ASSERT_TRUE(goal().target.source);
    EXPECT_EQ(goal().target.source->kind, TargetSource::Kind::curve);
    choose(target().followed_choice(), 4);
    EXPECT_EQ(goal().target.source->curve, "sunrise-a");
    choose(target().form_choice(), 4);
    EXPECT_EQ(goal().target.source->take, "t1");
    choose(target().form_choice(), 3);
    EXPECT_EQ(goal().target.source->channel, "sunrise") << "another channel than its own";
    EXPECT_NE(target_level_at(session(), 100), 0);
    choose(target().followed_choice(), 0);
    EXPECT_EQ(goal().target.source->channel, "zenith");
    EXPECT_TRUE(pane().problem().contains("own prediction")) << pane().problem().toStdString();
    EXPECT_FALSE(is_met(session().analysis()->verdict)) << "never met by itself";
    choose(target().followed_choice(), 1);
    press("Keep as points");
    EXPECT_GT(goal().target.points.size(), 100u);
    EXPECT_FALSE(goal().target.source);
}

TEST_F(GoalPaneTest, JumpsAndGapsComeFromButtons) {
    target().points()->setCurrentCell(1, 0);
    target().points()->selectRow(1);
    press("Jump");
    ASSERT_EQ(goal().target.points.size(), 5u);
    EXPECT_EQ(goal().target.points[1].frequency_hz, goal().target.points[2].frequency_hz);
    target().points()->selectRow(2);
    auto* after = target().findChild<QComboBox*>();
    for (QComboBox* box : target().findChildren<QComboBox*>()) {
        after = box->accessibleName() == "From the chosen points to the next" ? box : after;
    }
    choose(after, 4);
    EXPECT_EQ(goal().target.points[2].after, Between::gap);
    EXPECT_EQ(cell(target().points(), 2, 2), "gap");
    EXPECT_EQ(session().analysis()->goal->level->value_at(300), std::nullopt);
    EXPECT_TRUE(check(goal()));
}

TEST_F(GoalPaneTest, ASelectionIsShiftedAndScaled) {
    session().held().hold({0, 3});
    EXPECT_EQ(target().points()->chosen_rows(), (std::set<int>{0, 3}));
    type(target().shift_edit(), "1.5 dB");
    EXPECT_DOUBLE_EQ(goal().target.points[0].value, 3.5);
    EXPECT_DOUBLE_EQ(goal().target.points[3].value, -0.5);
    EXPECT_DOUBLE_EQ(goal().target.points[1].value, 1.6) << "not held";
    type(target().scale_edit(), "0.5");
    EXPECT_DOUBLE_EQ(goal().target.points[0].value, 2.5) << "half as far from the mean of 1.5";
    EXPECT_DOUBLE_EQ(goal().target.points[3].value, 0.5);
    EXPECT_EQ(undo_name(), "Scale 2 target points");
}

TEST_F(GoalPaneTest, PhaseAndDelayHaveTargetsOfTheirOwn) {
    choose(target().quantity_choice(), 2);
    press("Add point");
    ASSERT_TRUE(goal().delay_target);
    type_cell(target().points(), 0, 1, "2.5");
    EXPECT_DOUBLE_EQ(goal().delay_target->points[0].value, 2.5);
    type_cell(target().points(), 0, 1, "48 samples");
    EXPECT_NEAR(goal().delay_target->points[0].value, 1, 1e-12) << "kept in ms";
    choose(target().quantity_choice(), 1);
    press("Add point");
    type_cell(target().points(), 0, 1, "-45");
    EXPECT_DOUBLE_EQ(goal().phase_target->points[0].value, -45);
    target().points()->selectRow(0);
    press("Remove");
    EXPECT_FALSE(goal().phase_target) << "the last point gone, no target";
    EXPECT_TRUE(goal().delay_target);
}

TEST_F(GoalPaneTest, TheLevelAnchorFollowsTheMeasurement) {
    choose(target().anchor_choice(), 2);
    EXPECT_EQ(goal().target.anchor.kind, LevelAnchor::Kind::lowest_measured);
    const double here = target_level_at(session(), 1000);
    EXPECT_LT(here, 0) << "the lowest point of two rows";
    session().select_channel(1);
    EXPECT_DOUBLE_EQ(target_level_at(session(), 1000), here) << "shared by the other channel";
    // The handles stand on the raised line.
    EXPECT_NEAR(lanes().goal_grips().point_at(2).y(), lanes().y_of(Lane::magnitude, here), 1e-6);
}

TEST_F(GoalPaneTest, ComplementaryChannelsAreTickedInAMenu) {
    pane().show_tab(2);
    RequirementsTab& tab = *pane().requirements_tab();
    for (QAction* action : tab.add_button()->menu()->actions()) {
        if (action->text() == "all pass complementary") {
            action->trigger();
        }
    }
    QApplication::processEvents();
    ASSERT_EQ(goal().requirements.size(), 1u);
    auto* with = tab.findChild<QPushButton*>("with");
    ASSERT_NE(with, nullptr);
    EXPECT_EQ(with->text(), "the other ways of its crossover");
    EXPECT_TRUE(cell(tab.table(), 0, 1).contains("undecided")) << "it has none";
    emit with->menu()->aboutToShow();
    QAction* docent = with->menu()->actions()[3];
    EXPECT_EQ(docent->text(), "Docent");
    docent->trigger();
    QApplication::processEvents();
    const auto& list = std::get<AllPassComplementaryRequirement>(goal().requirements[0].spec).with;
    EXPECT_EQ(list.ids, std::vector<std::string>{"docent"});
    EXPECT_EQ(with->text(), "Docent");
    EXPECT_FALSE(cell(tab.table(), 0, 1).contains("undecided"));
}

TEST_F(GoalPaneTest, RequirementsAreAddedChangedAndRemoved) {
    pane().show_tab(2);
    RequirementsTab& tab = *pane().requirements_tab();
    QMenu* kinds = tab.add_button()->menu();
    EXPECT_EQ(kinds->actions().size(), 22) << "every kind that this version knows";
    for (QAction* action : kinds->actions()) {
        if (action->text() == "group delay") {
            action->trigger();
        }
    }
    QApplication::processEvents();
    ASSERT_EQ(goal().requirements.size(), 1u);
    ASSERT_NE(tab.field("to_hz"), nullptr) << "its fields are there at once";
    const auto& placed = std::get<GroupDelayRequirement>(goal().requirements[0].spec);
    EXPECT_EQ(placed.from_hz, goal().corridor.front().from_hz) << "where the corridor passes";
    EXPECT_EQ(placed.to_hz, goal().corridor.back().to_hz);
    type(tab.field("to_hz"), "6k");
    type(tab.field("value"), "21.4");
    const auto& made = std::get<GroupDelayRequirement>(goal().requirements[0].spec);
    EXPECT_EQ(made.to_hz, 6000);
    EXPECT_EQ(made.value->value, 21.4);
    auto* unit = tab.findChild<QComboBox*>("value_unit");
    choose(unit, 1);
    EXPECT_NEAR(std::get<GroupDelayRequirement>(goal().requirements[0].spec).value->value,
                21.4 / 48, 1e-12)
        << "the same time in ms";
    type(tab.field("value"), "");
    EXPECT_FALSE(std::get<GroupDelayRequirement>(goal().requirements[0].spec).value)
        << "empty: the goal's delay target";
    EXPECT_TRUE(cell(tab.table(), 0, 1).contains("undecided")) << "and there is none";
    type(tab.field("to_hz"), "0");
    EXPECT_EQ(std::get<GroupDelayRequirement>(goal().requirements[0].spec).to_hz, 6000);
    EXPECT_TRUE(pane().problem().contains("requirements[0].to_hz"));
    press("Remove");
    EXPECT_TRUE(goal().requirements.empty());
}

TEST_F(GoalPaneTest, ContradictionsAreSaidWhereTheyAre) {
    edit_goal(session(), "test", [](Goal& g) {
        g.requirements = {{AttenuationRequirement{900, 1100, 60}}};
    });
    EXPECT_TRUE(pane().problem().contains("requirements[0]")) << pane().problem().toStdString();
    EXPECT_TRUE(pane().problem().contains("corridor[1]"));
}

TEST_F(GoalPaneTest, WeightsAreDrawnOnTheirLane) {
    pane().show_tab(3);
    EXPECT_TRUE(lanes().rect_of(Lane::weight).isEmpty());
    pane().weights_tab()->lane_shown()->setChecked(true);
    lanes().redraw_now();
    ASSERT_FALSE(lanes().rect_of(Lane::weight).isEmpty());
    const QPointF from = lanes().weight_grips().point_at(2);
    drag(lanes(), from, {from.x(), lanes().y_of(Lane::weight, 1)});
    EXPECT_NEAR(goal().weights.points[2].weight, 10, 0.8);
    EXPECT_EQ(undo_name(), "Move a weight point");
    QTest::keyClick(&lanes(), Qt::Key_Delete);
    EXPECT_EQ(goal().weights.points.size(), 4u);
    QTest::mouseDClick(&lanes(), Qt::LeftButton, {},
                       QPointF(lanes().x_of(200), lanes().y_of(Lane::weight, -1)).toPoint());
    ASSERT_EQ(goal().weights.points.size(), 5u);
    EXPECT_NEAR(goal().weights.points[1].weight, 0.1, 0.02);
    press("Add range");
    type_cell(pane().weights_tab()->ranges(), 0, 2, "-1");
    EXPECT_TRUE(pane().problem().contains("weights.ranges[0].weight"));
    EXPECT_EQ(goal().weights.ranges[0].weight, 2);
}

TEST_F(GoalPaneTest, AStopbandIsTypedAtOnceAndMaySlope) {
    pane().show_tab(1);
    NumberTable& table = *pane().corridor_tab()->table();
    const double pass_end = goal().corridor.back().to_hz;
    press("Add stopband");
    const int row = table.rowCount() - 1;
    EXPECT_TRUE(goal().corridor.back().absolute);
    EXPECT_FALSE(goal().corridor.back().below_db);
    EXPECT_GT(goal().corridor.back().from_hz, pass_end);
    EXPECT_EQ(goal().corridor.back().to_hz, 24000);
    EXPECT_EQ(table.currentRow(), row);
    EXPECT_EQ(table.currentColumn(), 0);
    ASSERT_EQ(QApplication::focusWidget(), &table);
    for (const char* key : {"1", "8", "k"}) { // without a click into the cell
        QTest::keyClicks(QApplication::focusWidget(), key);
    }
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
    EXPECT_TRUE(QTest::qWaitFor([this] { return goal().corridor.back().from_hz == 18000; }));

    type_cell(&table, row, 3, "-40 to -64");
    EXPECT_EQ(goal().corridor.back().above_db, -40);
    EXPECT_EQ(goal().corridor.back().above_to_db, -64);
    EXPECT_EQ(table.item(row, 3)->text(), "−40 to −64");
    type_cell(&table, row, 3, "-40 to -50 to -64");
    EXPECT_TRUE(pane().problem().contains("more than two levels"));
    type_cell(&table, row, 3, "-40 to open");
    EXPECT_TRUE(pane().problem().contains("does not slope")) << pane().problem().toStdString();
    EXPECT_EQ(goal().corridor.back().above_to_db, -64) << "nothing is lost";
    type_cell(&table, row, 3, "0.01 ratio");
    EXPECT_NEAR(*goal().corridor.back().above_db, -40, 1e-12);
    EXPECT_FALSE(goal().corridor.back().above_to_db);
}

TEST_F(GoalPaneTest, ASlopingEdgeIsDraggedAsItIs) {
    pane().show_tab(1);
    session().edit("slope", [&](Study& study) {
        Goal& edited = study.goals[0].edit();
        edited.corridor = {{1000, 4000, 2, {}, true}};
        edited.corridor[0].above_to_db = 8;
    });
    lanes().redraw_now();
    const QPointF edge = on_lane(2000, 5);
    drag(lanes(), edge, edge - QPointF(0, 30), Qt::AltModifier);
    const CorridorRange& range = goal().corridor[0];
    EXPECT_GT(*range.above_db, 3);
    EXPECT_NEAR(*range.above_to_db - *range.above_db, 6, 1e-9);
}

TEST_F(GoalPaneTest, SeveralPointsMoveTogetherOnTheLane) {
    const QPointF first = lanes().goal_grips().point_at(1),
                  second = lanes().goal_grips().point_at(2);
    QTest::mouseClick(&lanes(), Qt::LeftButton, {}, first.toPoint());
    QTest::mouseClick(&lanes(), Qt::LeftButton, Qt::ShiftModifier, second.toPoint());
    EXPECT_EQ(session().held().points(), (std::set<int>{1, 2}));
    const TargetLine before = goal().target;
    drag(lanes(), second, second - QPointF(0, 40), Qt::AltModifier);
    const double by = goal().target.points[2].value - before.points[2].value;
    EXPECT_GT(by, 2);
    EXPECT_NEAR(goal().target.points[1].value - before.points[1].value, by, 1e-9);
    EXPECT_EQ(goal().target.points[0].value, before.points[0].value);
    EXPECT_EQ(undo_name(), "Move 2 target points");
    QTest::keyClick(&lanes(), Qt::Key_Up);
    EXPECT_NEAR(goal().target.points[1].value - before.points[1].value, by + 0.5, 1e-9);
    QTest::keyClick(&lanes(), Qt::Key_Delete);
    EXPECT_EQ(goal().target.points.size(), 2u);
}

TEST_F(GoalPaneTest, PointsSnapToRoundValues) {
    drag(lanes(), lanes().goal_grips().point_at(2), on_lane(1262, 3.1));
    EXPECT_DOUBLE_EQ(goal().target.points[2].frequency_hz, 1250);
    EXPECT_DOUBLE_EQ(goal().target.points[2].value, 3);
    drag(lanes(), lanes().goal_grips().point_at(2), on_lane(1262, 5.13), Qt::AltModifier);
    EXPECT_NE(goal().target.points[2].frequency_hz, 1250) << "Alt lets it move freely";
}

TEST_F(GoalPaneTest, AShiftDraggedBoxHoldsThePointsInside) {
    const QPointF at = lanes().goal_grips().point_at(1);
    drag(lanes(), at + QPointF(-27, 65), at + QPointF(28, -55), Qt::ShiftModifier);
    EXPECT_FALSE(lanes().is_magnified()) << "with the goal open, Shift holds instead";
    EXPECT_EQ(session().held().points(), (std::set<int>{1}));
}

TEST_F(GoalPaneTest, GoalsAreRenamedDuplicatedAndRemoved) {
    rename_goal(session(), "Dome, warm");
    EXPECT_EQ(goal().name, "Dome, warm");
    duplicate_goal(session());
    EXPECT_EQ(session().study().goals.size(), 5u);
    EXPECT_EQ(session().study().channels[1]->goal, "dome") << "the other channel keeps its own";
    EXPECT_NE(session().channel()->goal, "dome");
    session().select_channel(1);
    remove_goal(session());
    EXPECT_EQ(session().study().goals.size(), 4u);
    EXPECT_FALSE(is_met(session().analysis()->verdict));
    EXPECT_TRUE(pane().goal_choice()->currentText().contains("missing"));
}

} // namespace
} // namespace syntonon
