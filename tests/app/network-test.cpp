// Loops and repetitions on the rail: made, filled, moved into and out of, judged.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/stage_commands.h"
#include "app/panes/trim/network_trims.h"
#include "app/panes/trim/simple_trims.h"
#include "core/base/units.h"
#include "tests/app/window_fixture.h"

#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <cmath>

namespace syntonon::test {
namespace {

class Network : public Window {
protected:
    void SetUp() override {
        Window::SetUp();
        use_empty_channel();
    }
    void add(const char* title, const QPushButton* button = nullptr) {
        choose(button != nullptr ? *button : *window->rail()->add_button(), title);
    }
    QPushButton* foot(std::size_t i) { return window->rail()->branch_buttons().at(i); }
    double level_at(double hz) { return session().point_at(hz)->chain.magnitude_db; }
    const Finding& stability() { return window->verdict()->findings().back()->finding(); }
    std::string selected() { return session().selection().stage; }
    std::string place_of(const std::string& id) { return path_of(session().channel()->stages, id); }
    LoopTrim& loop_trim() { return dynamic_cast<LoopTrim&>(*window->trim()->panel()); }
};

TEST_F(Network, ALoopIsACombThatIsJudged) {
    add("Loop");
    const std::string loop = selected();
    EXPECT_NEAR(level_at(0), db_from_ratio(2), 1e-9) << "1 / (1 - 0.5)";
    EXPECT_NEAR(level_at(24000), db_from_ratio(1 / 1.5), 1e-9);
    EXPECT_EQ(stability().outcome, Outcome::met);
    EXPECT_NEAR(*stability().margin, db_from_ratio(2), 1e-6) << "it may be doubled";
    type(loop_trim().field("feedback.factor"), "-1.2");
    EXPECT_EQ(stability().outcome, Outcome::not_met);
    EXPECT_NEAR(*stability().margin, -db_from_ratio(1.2), 1e-6);
    EXPECT_EQ(undo_name(), "Change Loop × 0.5");
    // Without its delay the loop is solved, and a gain of 1 has no solution.
    session().select_stage(session().channel()->stages[0]->id);
    const std::string delay =
        std::get<LoopSpec>(*session().channel()->stages[0]->spec).feedback.stages[0]->id;
    remove_stage(session(), delay);
    session().select_stage(loop);
    EXPECT_NEAR(level_at(500), -db_from_ratio(2.2), 1e-9);
    EXPECT_TRUE(loop_trim().words()->text().contains("solved"));
    EXPECT_TRUE(loop_trim().delay_button()->isVisible());
    type(loop_trim().field("feedback.factor"), "1");
    EXPECT_TRUE(loop_trim().field("feedback.factor")->problem().contains("no solution"))
        << "refused before it is taken";
    EXPECT_NEAR(level_at(500), -db_from_ratio(2.2), 1e-9);
    QTest::mouseClick(loop_trim().delay_button(), Qt::LeftButton);
    EXPECT_FALSE(loop_trim().delay_button()->isVisible());
    EXPECT_EQ(std::get<LoopSpec>(*session().channel()->stages[0]->spec).feedback.stages.size(), 1u);
}

TEST_F(Network, ARepetitionCountsItsStages) {
    add("Repeat");
    const std::string repeat = selected();
    EXPECT_EQ(window->rail()->branch_buttons().size(), 1u);
    add("Peak", foot(0));
    session().edit_stage("gain", [](Stage& s) {
        std::get<ParametricSpec>(s.spec.edit()).gain_db = -2;
        std::get<ParametricSpec>(s.spec.edit()).frequency_hz = 1000;
    });
    EXPECT_NEAR(level_at(1000), -4, 1e-9);
    EXPECT_EQ(window->trim()->findChildren<QLabel*>().at(1)->text(), "stage 1 of 1 in 2 times");
    session().select_stage(repeat);
    auto& trim = dynamic_cast<FieldsTrim&>(*window->trim()->panel());
    EXPECT_EQ(trim.field("count")->editor()->text(), "2");
    type(trim.field("count"), "16");
    EXPECT_NEAR(level_at(1000), -32, 1e-9);
    type(trim.field("count"), "129");
    EXPECT_FALSE(trim.field("count")->problem().isEmpty());
    EXPECT_NEAR(level_at(1000), -32, 1e-9) << "not taken";
}

TEST_F(Network, StartingPointsAreOrdinaryStages) {
    QMenu* networks = nullptr;
    for (QAction* action : window->rail()->add_button()->menu()->actions()) {
        networks = action->text() == "Networks" ? action->menu() : networks;
    }
    ASSERT_NE(networks, nullptr);
    for (QAction* action : networks->actions()) {
        session().edit_channel("Empty", [](Channel& c) { c.stages.clear(); });
        action->trigger();
        QApplication::processEvents();
        EXPECT_EQ(undo_name(), "Add " + action->text());
        EXPECT_FALSE(action->toolTip().isEmpty());
        EXPECT_TRUE(session().analysis()->problems.empty()) << action->text().toStdString();
        EXPECT_EQ(stability().outcome, Outcome::met) << action->text().toStdString();
        EXPECT_EQ(selected(), session().channel()->stages[0]->id);
    }
}

TEST_F(Network, StagesMoveByKeyboardIntoAndOutOfBranches) {
    add("Peak");
    const std::string peak = selected();
    add("Split");
    const std::string split = selected();
    session().select_stage(peak);
    shortcut(Qt::Key_Right, Qt::AltModifier | Qt::ShiftModifier);
    EXPECT_EQ(place_of(peak), "stages[0].branches[0].stages[0]") << "into the stage below";
    shortcut(Qt::Key_Right, Qt::AltModifier | Qt::ShiftModifier);
    EXPECT_EQ(place_of(peak), "stages[0].branches[1].stages[0]");
    shortcut(Qt::Key_Right, Qt::AltModifier | Qt::ShiftModifier);
    EXPECT_EQ(place_of(peak), "stages[0].branches[1].stages[0]") << "there is no third branch";
    shortcut(Qt::Key_Left, Qt::AltModifier | Qt::ShiftModifier);
    EXPECT_EQ(place_of(peak), "stages[0].branches[0].stages[0]");
    shortcut(Qt::Key_Down, Qt::AltModifier);
    EXPECT_EQ(place_of(peak), "stages[1]") << "out at the end";
    EXPECT_EQ(place_of(split), "stages[0]");
    EXPECT_EQ(selected(), peak);
}

TEST_F(Network, PartsOfASampleAreInterpolated) {
    add("Delay");
    auto& trim = dynamic_cast<DelayTrim&>(*window->trim()->panel());
    type(trim.field("samples"), "0.3");
    EXPECT_NEAR(session().point_at(1000)->chain.group_delay_samples, 0, 1e-12) << "whole samples";
    choose_item(trim.interpolation(), static_cast<int>(Interpolation::lagrange));
    EXPECT_EQ(trim.field("order")->editor()->text(), "3");
    EXPECT_NEAR(session().point_at(100)->chain.group_delay_samples, 1.5, 1e-6)
        << "made as long as it must be";
    type(trim.field("samples"), "7.3");
    EXPECT_NEAR(session().point_at(100)->chain.group_delay_samples, 7.3, 1e-6);
    type(trim.field("samples"), "0.4");
    EXPECT_TRUE(trim.field("samples")->problem().contains("own delay"));
    EXPECT_NEAR(session().point_at(100)->chain.group_delay_samples, 7.3, 1e-6);
}

TEST_F(Network, WhatNestsTooDeepIsSaidOnItsCard) {
    Stage inner;
    inner.spec = GainSpec{};
    inner.id = "g";
    for (int depth = 0; depth < 17; ++depth) {
        Stage holder;
        holder.id = "h" + std::to_string(depth);
        holder.spec = RepeatSpec{1, {inner}};
        inner = holder;
    }
    session().edit_channel("Nest", [&](Channel& c) { c.stages = {inner}; });
    QApplication::processEvents();
    const auto problems = session().analysis()->problems;
    ASSERT_EQ(problems.size(), 1u);
    EXPECT_EQ(problems[0].reason, "chains nest deeper than 16");
    const auto& cards = window->rail()->cards();
    EXPECT_TRUE(std::ranges::any_of(cards, [](const StageCard* card) {
        return card->toolTip().contains("nest deeper than 16");
    }));
}

} // namespace
} // namespace syntonon::test
