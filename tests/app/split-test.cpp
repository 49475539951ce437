// A split on the rail: made, filled, moved into and out of, judged.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/stage_commands.h"
#include "app/panes/trim/fields_trim.h"
#include "app/panes/trim/split_trim.h"
#include "core/base/units.h"
#include "tests/app/window_fixture.h"

#include <QLabel>
#include <QMenu>
#include <QPushButton>

namespace syntonon::test {
namespace {

class Split : public Window {
protected:
    void SetUp() override {
        Window::SetUp();
        use_empty_channel();
        choose(*window->rail()->add_button(), "Split");
        split_ = session().selection().stage;
    }
    void add_to_branch(std::size_t branch, const char* title) {
        choose(*window->rail()->branch_buttons().at(branch), title);
    }
    StageCard& card(std::size_t i) { return *window->rail()->cards().at(i); }
    SplitTrim& trim() { return dynamic_cast<SplitTrim&>(*window->trim()->panel()); }
    double level_at(double hz) { return session().point_at(hz)->chain.magnitude_db; }

    std::string split_;
};

TEST_F(Split, TwoBranchesOfNothingAreTwiceTheInput) {
    EXPECT_NEAR(level_at(1000), db_from_ratio(2), 1e-12);
    EXPECT_EQ(undo_name(), "Add Split of 2 branches");
    EXPECT_EQ(window->rail()->branch_buttons().size(), 2u);
    type(trim().factor(1), "-1");
    EXPECT_EQ(level_at(1000), -INFINITY) << "they cancel";
    QTest::mouseClick(trim().more(), Qt::LeftButton);
    EXPECT_NEAR(level_at(1000), 0, 1e-12);
    EXPECT_EQ(window->rail()->branch_buttons().size(), 3u);
    QTest::mouseClick(trim().fewer(), Qt::LeftButton);
    EXPECT_FALSE(trim().fewer()->isEnabled()) << "two are the least";
}

TEST_F(Split, StagesAreAddedToBranchesSideBySide) {
    add_to_branch(0, "Delay");
    EXPECT_EQ(session().channel()->stages.size(), 1u);
    EXPECT_EQ(slot_of(session().channel()->stages, session().selection().stage),
              (Slot{split_, 0, 0}));
    add_to_branch(1, "Gain");
    add_to_branch(1, "Peak");
    ASSERT_EQ(window->rail()->cards().size(), 4u);
    EXPECT_LT(card(1).geometry().right(), card(2).geometry().left()) << "side by side";
    EXPECT_EQ(card(2).x(), card(3).x()) << "below one another";
    EXPECT_EQ(window->trim()->findChildren<QLabel*>().at(1)->text(), "stage 2 of 2 in branch 2");
}

TEST_F(Split, ACardIsDraggedIntoABranchAndOutAgain) {
    choose(*window->rail()->add_button(), "Gain");
    const std::string gain = session().selection().stage;
    QApplication::processEvents();
    QPushButton& foot = *window->rail()->branch_buttons()[1];
    drag(card(1), card(1).rect().center(),
         card(1).mapFromGlobal(foot.mapToGlobal(foot.rect().center())));
    EXPECT_EQ(slot_of(session().channel()->stages, gain), (Slot{split_, 1, 0}));
    EXPECT_EQ(session().selection().stage, gain) << "what is held stays held";
    QApplication::processEvents();
    drag(card(1), card(1).rect().center(),
         card(1).mapFromGlobal(card(0).mapToGlobal(QPoint(30, 4))));
    EXPECT_EQ(slot_of(session().channel()->stages, gain), (Slot{"", 0, 0}));
}

TEST_F(Split, UndoAndRedoGoThroughTheTree) {
    add_to_branch(0, "Delay");
    const Study full = session().study();
    const std::string delay = session().selection().stage;
    remove_stage(session(), delay);
    EXPECT_EQ(session().selection().stage, split_) << "the holder, when nothing is left beside it";
    session().history().undo();
    EXPECT_EQ(session().study(), full);
    EXPECT_EQ(session().selection().stage, delay);
    switch_stage(session(), split_, false);
    EXPECT_EQ(level_at(1000), 0);
    duplicate_stage(session(), split_);
    EXPECT_EQ(window->rail()->cards().size(), 4u) << "with what it holds";
}

TEST_F(Split, ACombIsJudgedTooth) {
    add_to_branch(1, "Delay");
    type(dynamic_cast<FieldsTrim&>(*window->trim()->panel()).field("samples"), "480");
    session().edit("Goal", [](Study& s) {
        Goal goal;
        goal.id = "flat";
        goal.requirements = {{PeakGainRequirement{7}, {}}, {RippleRequirement{20, 20000, 6}, {}}};
        s.goals.emplace_back(goal);
        s.channels[0].edit().goal = "flat";
    });
    const Verdict& verdict = session().analysis()->verdict;
    EXPECT_EQ(verdict[0].outcome, Outcome::met);
    EXPECT_NEAR(*verdict[0].value, db_from_ratio(2), 1e-9);
    EXPECT_EQ(verdict[1].outcome, Outcome::not_met) << "dips to nothing every 100 Hz";
    EXPECT_FALSE(session().analysis()->chain.sections());
}

} // namespace
} // namespace syntonon::test
