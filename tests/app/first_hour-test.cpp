// What a new user stumbled over: readouts, scales, names that are cut, history.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/dialogs/history_dialog.h"
#include "app/model/goal_commands.h"
#include "app/panes/goal/requirements_tab.h"
#include "app/panes/time_pane.h"
#include "app/panes/verdict_pane.h"
#include "app/plot/sample_plot.h"
#include "core/goal/requirement.h"

#include <QHeaderView>
#include <QPushButton>
#include <QTableWidget>
#include <QTreeWidget>
#include <QUndoView>
#include <cmath>
#include <limits>

namespace syntonon {
namespace {

class FirstHour : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        session().select_stage(id(4));
    }
    void point_at(double hz) {
        session().plumb().set(hz);
        lanes().grab(); // the readout is placed when it is painted
    }
    void use_stages(const Chain& stages) {
        session().edit_channel("stages", [&](Channel& channel) { channel.stages = stages; });
    }
    static Stage stage_of(const StageSpec& spec) {
        Stage stage;
        stage.id = "only";
        stage.spec = spec;
        return stage;
    }
};

TEST_F(FirstHour, TheReadoutNeverCoversAGrip) {
    for (double hz = 25; hz < 18'000; hz *= 1.13) {
        point_at(hz);
        const QRectF box = lanes().readout().box();
        ASSERT_FALSE(box.isEmpty());
        EXPECT_TRUE(QRectF(lanes().rect()).contains(box)) << hz;
        for (const QPointF& grip : lanes().stage_grips().handle_points()) {
            EXPECT_FALSE(box.contains(grip)) << hz << " Hz";
        }
        const auto name = lanes().stage_grips().label_box();
        EXPECT_FALSE(name && box.intersects(*name)) << hz << " Hz";
    }
}

TEST_F(FirstHour, TheReadoutKeepsClearOfGoalAndWeightHandles) {
    window->show_goal();
    LaneView view = lanes().view();
    view.show(Lane::weight, true);
    lanes().change_view(view);
    ASSERT_FALSE(lanes().weight_grips().handle_points().empty());
    ASSERT_FALSE(lanes().goal_grips().handle_points().empty());
    int covered = 0;
    for (double hz = 25; hz < 18'000; hz *= 1.3) {
        point_at(hz);
        for (const auto& points :
             {lanes().weight_grips().handle_points(), lanes().goal_grips().handle_points()}) {
            covered += static_cast<int>(std::ranges::count_if(
                points, [&](const QPointF& at) { return lanes().readout().box().contains(at); }));
        }
    }
    EXPECT_EQ(covered, 0);
}

TEST_F(FirstHour, TheReadoutLeavesTheCurveUnderWorkInSight) {
    // Of the stage that is being shaped at most a few points at most places.
    int covered = 0, places = 0;
    for (double hz = 25; hz < 18'000; hz *= 1.13, ++places) {
        point_at(hz);
        const auto points = lanes().curves().curves_in_work()[0].pixels_between(0, 4000);
        const auto under = std::ranges::count_if(
            points, [&](const QPointF& at) { return lanes().readout().box().contains(at); });
        covered += under > 10 ? 1 : 0;
    }
    EXPECT_LT(covered, places / 10);
}

TEST_F(FirstHour, TheReadoutCanStandBesideTheLanes) {
    const int width = lanes().rect_of(Lane::magnitude).width();
    shortcut(Qt::Key_R, Qt::AltModifier);
    point_at(412);
    EXPECT_LT(lanes().rect_of(Lane::magnitude).width(), width - 150);
    EXPECT_GT(lanes().readout().box().left(), lanes().rect_of_all().right());
    EXPECT_TRUE(QRectF(lanes().rect()).contains(lanes().readout().box()));
    shortcut(Qt::Key_R, Qt::AltModifier);
    EXPECT_EQ(lanes().rect_of(Lane::magnitude).width(), width);
}

TEST_F(FirstHour, ThePointerReachesWhatLiesUnderTheReadout) {
    point_at(412);
    session().plumb().pin(true);
    lanes().grab();
    const QPointF inside = lanes().readout().box().center();
    hover(lanes(), inside);
    QTest::mouseClick(&lanes(), Qt::LeftButton, {}, inside.toPoint());
    EXPECT_FALSE(session().plumb().is_pinned()) << "the click was the lanes'";
}

TEST_F(FirstHour, WhatIsMagnifiedIsSaidInOneLine) {
    session().select_channel(1); // misses its corridor
    for (const Finding& finding : session().analysis()->verdict) {
        if (finding.outcome == Outcome::not_met && finding.worst_hz) {
            lanes().magnify_finding(finding);
        }
    }
    lanes().grab();
    EXPECT_LT(lanes().magnified_rect().height(), 20);
    for (const char* words : {"shown", "corridor", "Home"}) {
        EXPECT_TRUE(lanes().magnified_line().contains(words)) << words;
    }
    QTest::mouseClick(&lanes(), Qt::LeftButton, {}, lanes().magnified_rect().center());
    EXPECT_FALSE(lanes().is_magnified());
}

TEST_F(FirstHour, ADelayThatLeavesItsLaneIsSaidAndShown) {
    use_stages({stage_of(DelaySpec{DelayUnit::ms, 45})});
    lanes().redraw_now();
    EXPECT_TRUE(lanes().beyond_text(Lane::delay).startsWith("▲ up to 45 ms"))
        << lanes().beyond_text(Lane::delay).toStdString();
    QTest::mouseClick(&lanes(), Qt::LeftButton, {},
                      lanes().rect_of(Lane::delay).topLeft() + QPoint(20, 10));
    EXPECT_GE(lanes().range(Lane::delay).high, 45);
    EXPECT_TRUE(lanes().beyond_text(Lane::delay).isEmpty());
}

TEST_F(FirstHour, AFindingInSilenceLeavesTheLanesAtNumbers) {
    const LaneRange before = lanes().range(Lane::magnitude);
    use_stages({stage_of(TapsSpec{std::make_shared<const std::vector<double>>(4, 0.0)})});
    Finding finding;
    finding.requirement = "corridor 900–1100 Hz";
    finding.quantity = Quantity::level;
    finding.unit = "dB";
    finding.worst_hz = 1000;
    ASSERT_FALSE(std::isfinite(session().point_at(1000)->predicted_db.value_or(0)));
    lanes().magnify_finding(finding);
    EXPECT_EQ(lanes().range(Lane::magnitude), before);
    EXPECT_NEAR(lanes().zoom().high_hz, 1000 * std::sqrt(2), 1e-6);

    lanes().redraw_now();
    EXPECT_EQ(lanes().beyond_text(Lane::magnitude), "") << "nothing is no level beyond the lane";
    lanes().show_all_of(Lane::magnitude);
    EXPECT_TRUE(std::isfinite(lanes().y_of(Lane::magnitude, 0)));
}

TEST_F(FirstHour, ARangeThatNoAxisCanShowIsNotTaken) {
    const LaneZoom before = lanes().zoom();
    LaneZoom other = before;
    other.of(Lane::magnitude) = {std::numeric_limits<double>::quiet_NaN(), 6, 0};
    other.of(Lane::delay) = {3, 3, 0};
    other.low_hz = 0; // has no logarithm
    lanes().set_zoom(other);
    EXPECT_EQ(lanes().zoom(), before);

    other = before;
    other.of(Lane::magnitude) = {-10000, -8000, 0}; // both 0 as a ratio
    lanes().set_zoom(other);
    EXPECT_EQ(lanes().zoom(), other);
    LaneView view = lanes().view();
    view.level = LevelScale::linear_ratio;
    lanes().change_view(view);
    EXPECT_TRUE(std::isfinite(lanes().y_of(Lane::magnitude, -10000)));
}

TEST_F(FirstHour, TakesWithoutAChainDrawNoFlatLines) {
    const auto curves_on = [&](Lane lane) {
        lanes().redraw_now();
        int count = 0;
        for (const LaneCurve& curve : lanes().all_curves()) {
            count += lanes().extent_of(curve, lane) ? 1 : 0;
        }
        return count;
    };
    session().edit_channel("no takes", [](Channel& channel) { channel.takes.clear(); });
    const int level = curves_on(Lane::magnitude), delay = curves_on(Lane::delay);
    session().edit_channel("empty take", [](Channel& channel) {
        Take take;
        take.id = take.name = "bare";
        channel.takes.emplace_back(take);
    });
    EXPECT_EQ(curves_on(Lane::magnitude), level + 1) << "it is compared by level";
    EXPECT_EQ(curves_on(Lane::delay), delay);
}

TEST_F(FirstHour, TheWeightedErrorHasAnAxisOfItsOwn) {
    EXPECT_FALSE(lanes().curves().error_axis_top_db());
    LaneView view = lanes().view();
    view.show(Lane::weight, true);
    lanes().change_view(view);
    EXPECT_EQ(lanes().curves().error_axis_top_db(), 12);
    // 0, 6 and 12 are painted in ink right of the lane.
    const QRect lane = lanes().rect_of(Lane::weight);
    const QImage beside =
        lanes().grab(QRect(lane.right() + 3, lane.top() - 8, 20, lane.height() + 16)).toImage();
    int ink = 0;
    for (int y = 0; y < beside.height(); ++y) {
        for (int x = 0; x < beside.width(); ++x) {
            ink += beside.pixelColor(x, y).lightness() < 140 ? 1 : 0;
        }
    }
    EXPECT_GT(ink, 20);
}

TEST_F(FirstHour, TheImpulseOfAStraightWireIsOneAtFullHeight) {
    use_stages({});
    auto& time = *window->lower()->findChild<TimePane*>();
    window->lower()->show_page(0);
    time.grab();
    EXPECT_EQ(time.plot().low(), 0);
    EXPECT_EQ(time.plot().high(), 1);
    EXPECT_FALSE(time.plot().is_broken());
    EXPECT_EQ(time.plot().note(), "main sample 1 at n = 0");
}

TEST(SamplePlot, BreaksItsAxisOnlyForASampleThatTowers) {
    SampleStyle style;
    style.marks_main = true;
    const std::vector<double> towering = {1, 0.01, -0.02, 0.005}, plain = {1, 0.5, -0.3, 0.1};
    const SamplePlot broken(towering, style), whole(plain, style);
    EXPECT_TRUE(broken.is_broken());
    EXPECT_NEAR(broken.high(), 0.022, 1e-12);
    EXPECT_TRUE(broken.note().contains("broken at ±"));
    EXPECT_FALSE(whole.is_broken());
    EXPECT_EQ(whole.high(), 1);
    EXPECT_EQ(whole.low(), -0.3);
    const QRectF area(0, 0, 400, 200);
    EXPECT_GT(broken.y_of(0.022, area), 0.2 * area.height()) << "room for what is above the break";
    EXPECT_LT(whole.y_of(1, area), 0.1 * area.height());
}

TEST(SamplePlot, ShowsLevelsDownToAFloor) {
    SampleStyle style;
    style.decibels = true;
    style.floor_db = -60;
    const std::vector<double> values = {1, 0.1, 0, -0.01};
    const SamplePlot plot(values, style);
    EXPECT_EQ(plot.low(), -60);
    EXPECT_EQ(plot.high(), 0);
    const QRectF area(0, 0, 400, 200);
    EXPECT_LT(plot.y_of(-20, area), plot.y_of(-40, area));
}

TEST_F(FirstHour, WithoutAGoalOneButtonMakesOne) {
    session().edit_channel("none", [](Channel& channel) { channel.goal.clear(); });
    window->show_goal();
    QPushButton* make = window->goal_pane()->make_button();
    ASSERT_TRUE(make->isVisible());
    QTest::mouseClick(make, Qt::LeftButton);
    ASSERT_NE(current_goal(session()), nullptr);
    EXPECT_FALSE(make->isVisible());
    EXPECT_EQ(undo_name(), "Add a goal");
}

TEST_F(FirstHour, TheFirstEditOfATableMakesAGoalByItself) {
    session().edit_channel("none", [](Channel& channel) { channel.goal.clear(); });
    const std::size_t goals = session().study().goals.size();
    window->show_goal();
    QTableWidget* points = window->goal_pane()->target_table();
    ASSERT_TRUE(points->isEnabled());
    ASSERT_EQ(points->rowCount(), 2) << "a proposal";
    EXPECT_EQ(current_goal(session()), nullptr) << "looking makes none";
    points->item(0, 1)->setText("3");
    QApplication::processEvents();
    ASSERT_NE(current_goal(session()), nullptr);
    EXPECT_EQ(current_goal(session())->target.points[0].value, 3);
    EXPECT_EQ(session().study().goals.size(), goals + 1);
    session().history().undo();
    EXPECT_EQ(session().study().goals.size(), goals) << "goal and edit are one step";
}

TEST_F(FirstHour, NothingInTheVerdictIsCut) {
    window->show_verdict();
    window->verdict_pane()->grab(); // a bar may appear, which makes the names narrower
    QTest::qWait(10);
    const QTreeWidget& tree = *window->verdict_pane()->tree();
    const QTreeWidgetItem& channel = *tree.topLevelItem(0);
    for (int row = 0; row < channel.childCount(); ++row) {
        for (const int column : {1, 2, 3, 4}) {
            const QString text = channel.child(row)->text(column);
            EXPECT_LE(tree.fontMetrics().horizontalAdvance(text), tree.columnWidth(column))
                << text.toStdString();
        }
        const QRect name = tree.fontMetrics().boundingRect(
            QRect(0, 0, tree.columnWidth(0) - 2 * tree.indentation() - 8, 1000), Qt::TextWordWrap,
            channel.child(row)->text(0));
        EXPECT_LE(name.height(), tree.visualItemRect(channel.child(row)).height() + 1)
            << "the name is whole";
        EXPECT_TRUE(channel.child(row)->toolTip(0).contains(QString::fromStdString(
            session().analysis()->verdict[static_cast<std::size_t>(row)].requirement)));
    }
    session().select_channel(3);
    window->show_goal();
    window->goal_pane()->show_tab(2);
    QTest::qWait(10);
    const auto* table = window->goal_pane()->requirements_tab()->findChild<QTableWidget*>();
    ASSERT_GT(table->rowCount(), 0);
    for (int row = 0; row < table->rowCount(); ++row) {
        EXPECT_LE(table->fontMetrics().horizontalAdvance(table->item(row, 1)->text()),
                  table->columnWidth(1));
        const QRect needed =
            table->fontMetrics().boundingRect(QRect(0, 0, table->columnWidth(0) - 8, 1000),
                                              Qt::TextWordWrap, table->item(row, 0)->text());
        EXPECT_LE(needed.height(), table->rowHeight(row)) << "wrapped, not cut";
        EXPECT_TRUE(table->item(row, 0)->toolTip().contains(table->item(row, 0)->text()));
    }
}

TEST_F(FirstHour, CardsAreWholeAtEveryScale) {
    StageCard& card = *window->rail()->cards()[0];
    for (const double scale : {1.0, 1.25, 1.5, 1.75, 2.0}) {
        QImage picture((QSizeF(card.size()) * scale).toSize(), QImage::Format_RGB32);
        picture.setDevicePixelRatio(scale);
        picture.fill(Qt::magenta);
        card.render(&picture);
        const int across = picture.width() / 3, down = picture.height() / 2;
        const auto edge = [&](int x, int y, int dx, int dy) { // the darkest of the outer pixels
            int darkest = 255;
            for (int i = 0; i < 3; ++i) {
                darkest = std::min(darkest, picture.pixelColor(x + i * dx, y + i * dy).lightness());
            }
            return darkest;
        };
        const int panel = theme().panel.lightness();
        EXPECT_LT(edge(across, 0, 0, 1), panel - 12) << "upper edge at " << scale;
        EXPECT_LT(edge(across, picture.height() - 1, 0, -1), panel - 12) << "lower at " << scale;
        EXPECT_LT(edge(0, down, 1, 0), panel - 12) << "left at " << scale;
        EXPECT_LT(edge(picture.width() - 1, down, -1, 0), panel - 12) << "right at " << scale;
    }
}

TEST_F(FirstHour, TheHistoryIsAListThatOneCanJumpIn) {
    for (const double gain : {1.0, 2.0, 3.0}) {
        type(trim().gain(), QString::number(gain));
        session().new_gesture();
        QTest::qWait(1);
    }
    session().edit("Name it", [](Study& s) { s.name = "Another"; });
    const double before = 3.0;
    window->show_history();
    auto* dialog = window->findChild<HistoryDialog*>();
    ASSERT_NE(dialog, nullptr);
    const int steps = session().history().count();
    EXPECT_EQ(dialog->list()->model()->rowCount(), steps + 1);
    EXPECT_EQ(dialog->list()->model()->index(0, 0).data().toString(), "As opened");
    EXPECT_EQ(dialog->list()->model()->index(steps, 0).data().toString(), "Name it");
    dialog->list()->setCurrentIndex(dialog->list()->model()->index(0, 0));
    EXPECT_EQ(session().study(), brightwater_study());
    dialog->list()->setCurrentIndex(dialog->list()->model()->index(steps, 0));
    EXPECT_EQ(session().study().name, "Another");
    EXPECT_EQ(spec(4).gain_db, before);
    dialog->saved_button()->click();
    EXPECT_EQ(session().study(), brightwater_study());
    EXPECT_EQ(undo_name(), "Back to as saved");
    EXPECT_FALSE(dialog->saved_button()->isEnabled());
    session().history().undo();
    EXPECT_EQ(session().study().name, "Another") << "and that can be undone";
}

} // namespace
} // namespace syntonon
