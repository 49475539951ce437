// Classical filters and analog channels in the window.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/analog_commands.h"
#include "app/model/goal_commands.h"
#include "app/model/stage_commands.h"
#include "app/panes/roots/roots_pane.h"
#include "app/panes/trim/classical_trim.h"
#include "core/base/units.h"
#include "tests/app/window_fixture.h"

#include <QLabel>
#include <QMenu>
#include <QToolButton>
#include <gtest/gtest.h>

namespace syntonon::test {
namespace {

class Classical : public Window {
protected:
    void SetUp() override {
        Window::SetUp();
        use_empty_channel();
        add_stage(session(), ClassicalSpec());
    }
    ClassicalTrim& panel() { return dynamic_cast<ClassicalTrim&>(*window->trim()->panel()); }
    const ClassicalSpec& classical() { return std::get<ClassicalSpec>(*session().stage()->spec); }
    static void choose_in(const QToolButton& button, const QString& title) {
        for (QAction* action : button.menu()->actions()) {
            if (action->text() == title) {
                action->trigger();
                return;
            }
        }
        FAIL() << title.toStdString();
    }
};

TEST_F(Classical, IsTrimmedByItsFields) {
    choose_item(panel().family(), 3);
    EXPECT_EQ(classical().family, ClassicalFamily::elliptic);
    EXPECT_TRUE(panel().field("pass_ripple_db")->isVisible());
    EXPECT_TRUE(panel().field("stop_attenuation_db")->isVisible());
    EXPECT_FALSE(panel().field("edges_hz[1]")->isVisible());
    choose_item(panel().band(), 2);
    EXPECT_TRUE(panel().field("edges_hz[1]")->isVisible());
    type(panel().field("edges_hz[0]"), "2*pi*300 rad/s");
    EXPECT_NEAR(classical().edges_hz[0], 300, 1e-9);
    type(panel().field("order"), "7");
    EXPECT_EQ(classical().order, 7);
}

TEST_F(Classical, WhatCannotBeDesignedIsExplainedAndNotTaken) {
    type(panel().field("order"), "51");
    EXPECT_EQ(classical().order, 4);
    EXPECT_TRUE(panel().field("order")->problem().contains("51"));
    type(panel().field("order"), "3");
    choose_item(panel().band(), 1);
    choose_in(*panel().mapping(), "Impulse invariant");
    EXPECT_EQ(classical().mapping, PlaneMapping::bilinear);
    EXPECT_TRUE(panel().problem().contains("bilinear"));
}

TEST_F(Classical, ShowsTheOrderThatTolerancesTake) {
    choose_item(panel().stated_by(), 1);
    EXPECT_TRUE(classical().by_tolerances);
    EXPECT_TRUE(panel().order_found()->text().startsWith("order "))
        << panel().order_found()->text().toStdString();
    EXPECT_TRUE(panel().better()->isVisible());
    choose_in(*panel().better(), "Pass edge");
    EXPECT_EQ(classical().better, Better::pass_edge);
    type(panel().field("spec.stop_edges_hz[0]"), "900");
    EXPECT_TRUE(panel().field("spec.stop_edges_hz[0]")->problem().contains("above"));
    // Back to the order, whose numbers are still there.
    choose_item(panel().stated_by(), 0);
    EXPECT_EQ(classical().order, 4);
}

TEST_F(Classical, TakesItsNumbersFromTheGoalAndGivesThemBack) {
    edit_goal(session(), "Goal", [](Goal& goal) {
        goal.corridor.clear();
        goal.requirements = {{RippleRequirement{20, 3000, 0.25}},
                             {AttenuationRequirement{5000, 24000, 55}}};
    });
    panel().take_from_goal();
    EXPECT_TRUE(classical().by_tolerances);
    EXPECT_EQ(classical().tolerances.pass_edges_hz[0], 3000);
    EXPECT_EQ(classical().tolerances.stop_edges_hz[0], 5000);
    EXPECT_EQ(classical().tolerances.pass_ripple_db, 0.25);
    EXPECT_EQ(classical().tolerances.stop_attenuation_db, 55);
    EXPECT_TRUE(is_met(session().analysis()->verdict));
    panel().add_to_goal();
    EXPECT_EQ(current_goal(session())->requirements.size(), 4);
    choose_item(panel().band(), 1);
    panel().take_from_goal();
    EXPECT_TRUE(panel().problem().contains("stopband"));
}

TEST_F(Classical, EdgesAreShownInAnyUnit) {
    choose_in(*panel().sections(), "Descending Q");
    EXPECT_EQ(classical().sections.order, SectionOrder::q_descending);
    auto* units = panel().findChild<QToolButton*>("edge_units");
    ASSERT_NE(units, nullptr);
    choose_in(*units, "Edges in rad/s");
    EXPECT_EQ(panel().field("edges_hz[0]")->editor()->text(), "6283.2");
    type(panel().field("edges_hz[0]"), "3000");
    EXPECT_NEAR(classical().edges_hz[0], hz_from_rad_per_s(3000), 1e-9);
    type(panel().field("edges_hz[0]"), "2 kHz");
    EXPECT_NEAR(classical().edges_hz[0], 2000, 1e-9);
}

TEST_F(Classical, FitsIntoTheWindowHoweverMuchIsStated) {
    choose_item(panel().family(), 2);
    choose_item(panel().band(), 2);
    choose_item(panel().stated_by(), 1);
    auto* units = panel().findChild<QToolButton*>("edge_units");
    ASSERT_NE(units, nullptr);
    choose_in(*units, "Passband as a ratio");
    choose_in(*units, "Stopband as a ratio");
    ASSERT_TRUE(classical().by_tolerances && classical().tolerances.stop_as_ratio)
        << panel().problem().toStdString();
    QTest::qWait(20);
    RecordProperty("widths", std::to_string(panel().minimumSizeHint().width()) + " "
                                 + std::to_string(window->trim()->minimumSizeHint().width()) + " "
                                 + std::to_string(window->minimumSizeHint().width()));
    EXPECT_LE(panel().minimumSizeHint().width(), 1280) << "panel";
    EXPECT_LE(window->trim()->minimumSizeHint().width(), 1280) << "strip";
    EXPECT_LE(window->minimumSizeHint().width(), 1280);
    EXPECT_EQ(window->width(), 1280);
}

TEST_F(Classical, ItsEdgeIsDraggedOnTheLane) {
    const auto at = [&](double hz, double db) {
        return QPointF(lanes().x_of(hz), lanes().y_of(Lane::magnitude, db));
    };
    drag(lanes(), at(1000, -3.01), at(4000, -3.01));
    EXPECT_NEAR(classical().edges_hz[0] / 4000, 1, 0.03);
}

class AnalogWindow : public Window {};

TEST_F(AnalogWindow, AChannelIsAddedMappedAndComparedOnTheLanes) {
    add_analog_channel(session());
    EXPECT_TRUE(session().axis().is_analog());
    EXPECT_GT(lanes().zoom().high_hz, 100000);
    add_stage(session(), ClassicalSpec());
    EXPECT_TRUE(session().analysis()->chain.is_analog());
    EXPECT_FALSE(dynamic_cast<ClassicalTrim&>(*window->trim()->panel()).mapping()->isVisible());
    const auto text = analog_text_of_selected(session(), AnalogFormat::text);
    ASSERT_TRUE(text);
    EXPECT_NE(text->find("Q "), std::string::npos);
    for (const auto& mapping : names_of_mappings()) {
        session().select_channel(static_cast<int>(session().study().channels.size()) - 1);
        while (!session().axis().is_analog()) {
            session().select_channel(session().selection().channel - 1);
        }
        const auto done = map_selected_channel(session(), mapping.value);
        ASSERT_TRUE(done) << to_text(done.error());
        EXPECT_FALSE(session().axis().is_analog());
        EXPECT_LE(lanes().zoom().high_hz, 24000);
        const auto& parts = lanes().curves().curves();
        EXPECT_TRUE(std::ranges::any_of(
            parts, [](const auto& curve) { return curve.key == "part:origin"; }));
    }
    EXPECT_FALSE(map_selected_channel(session(), PlaneMapping::matched)) << "it is sampled";
}

TEST_F(AnalogWindow, PolesAreLeftOfTheAxis) {
    add_analog_channel(session());
    add_stage(session(), ClassicalSpec());
    auto* pane = window->findChild<RootsPane*>();
    ASSERT_NE(pane, nullptr);
    pane->repaint();
    const QPointF origin = pane->point_of(0);
    for (const auto& pole : session().analysis()->chain.roots()->poles) {
        EXPECT_LT(pane->point_of(pole).x(), origin.x());
    }
    EXPECT_NEAR(pane->point_of({0, 1}).x(), origin.x(), 1e-9);
}

} // namespace
} // namespace syntonon::test
