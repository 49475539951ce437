// Designs that take long, beside the real window: with a kind that only tests have.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/take_commands.h"
#include "app/panes/jobs_box.h"
#include "app/panes/numbers_pane.h"
#include "app/panes/trim/fields_trim.h"
#include "app/panes/working_pane.h"
#include "tests/app/window_fixture.h"
#include "tests/support/test_designer.h"

#include <QLabel>
#include <QPushButton>
#include <algorithm>

namespace syntonon::test {
namespace {

// A gain is slow here.
class Jobs : public Window {
protected:
    std::shared_ptr<DesignStore> make_store() override {
        designer.is_slow = [](const StageSpec& spec) {
            return std::holds_alternative<GainSpec>(*spec);
        };
        return std::make_shared<DesignStore>(DesignStore::usual_bytes, designer);
    }
    void SetUp() override {
        Window::SetUp();
        session().edit_channel("Start with a slow stage", [](Channel& channel) {
            Stage stage;
            stage.id = "slow";
            GainSpec gain;
            gain.gain_db = -6;
            stage.spec = gain;
            channel.stages.insert(channel.stages.begin(), stage);
        });
        session().select_stage("slow");
        ASSERT_TRUE(settled());
    }
    void set_gain(double db) {
        session().edit_stage(
            "Gain", [db](Stage& stage) { std::get<GainSpec>(stage.spec.edit()).gain_db = db; });
    }
    bool settled() {
        return QTest::qWaitFor([&] { return session().analysis()->jobs.empty(); }, 20000);
    }
    bool begun(int designs) {
        return QTest::qWaitFor([&] { return designer.slow_designs >= designs; }, 20000);
    }
    double stage_level() {
        return session().stage_analysis()->filter->response_at(1000, 48000).magnitude_db;
    }
    bool all_undecided() {
        return std::ranges::all_of(session().analysis()->verdict, [](const Finding& finding) {
            return finding.outcome == Outcome::undecided;
        });
    }
    JobsBox& box() { return *window->verdict()->jobs_box(); }

    TestDesigner designer;
};

TEST_F(Jobs, TheLastGoodCurveStandsUntilTheNewOneIsThere) {
    EXPECT_NEAR(stage_level(), -6, 1e-9);
    EXPECT_FALSE(all_undecided());
    EXPECT_TRUE(box().isHidden());
    designer.steps_of_ms = 100000;
    set_gain(-3);
    EXPECT_NEAR(stage_level(), -6, 1e-9) << "the last good one";
    EXPECT_TRUE(session().stage_analysis()->is_waiting);
    EXPECT_TRUE(all_undecided());
    EXPECT_NE(session().analysis()->verdict[0].reason.find("is being designed"), std::string::npos);
    EXPECT_TRUE(box().isVisible());
    ASSERT_TRUE(QTest::qWaitFor(
        [&] { return !session().jobs().empty() && session().jobs()[0].done > 0.0005; }, 20000));
    EXPECT_EQ(box().line(), "Zenith: Gain −3.0 dB");
    designer.steps_of_ms = 1; // of the next one
    set_gain(-2);
    ASSERT_TRUE(settled());
    EXPECT_NEAR(stage_level(), -2, 1e-9);
    EXPECT_FALSE(session().stage_analysis()->is_waiting);
    EXPECT_FALSE(all_undecided());
    EXPECT_TRUE(box().isHidden());
    EXPECT_EQ(designer.stops, 1) << "the one at −3 dB was overtaken";
}

TEST_F(Jobs, AVerdictThatTakesLongIsFoundBesideTheWindow) {
    std::vector<double> taps(32768, 1e-6);
    taps[3000] = 1;
    session().edit_channel("A long FIR", [&](Channel& channel) {
        Stage stage;
        stage.id = "fir";
        stage.spec = TapsSpec{std::make_shared<const std::vector<double>>(taps)};
        channel.stages.emplace_back(stage);
    });
    EXPECT_TRUE(all_undecided());
    EXPECT_TRUE(session().is_judging());
    EXPECT_TRUE(box().isVisible());
    EXPECT_EQ(box().line(), "Zenith: verdict");
    set_gain(-5); // while it is being found: the newest one counts
    ASSERT_TRUE(settled());
    ASSERT_TRUE(QTest::qWaitFor([&] { return !session().is_judging(); }, 30000));
    EXPECT_FALSE(all_undecided());
    EXPECT_EQ(session().analysis()->judging, nullptr);
    EXPECT_TRUE(box().isHidden());
}

TEST_F(Jobs, UndoAndATakeDesignNothingAgain) {
    set_gain(-3);
    ASSERT_TRUE(settled());
    const int designs = designer.slow_designs;
    EXPECT_EQ(designs, 2);
    session().history().undo();
    EXPECT_TRUE(session().jobs().empty());
    EXPECT_NEAR(stage_level(), -6, 1e-9);
    session().history().redo();
    EXPECT_NEAR(stage_level(), -3, 1e-9);
    freeze_take(session());
    QTest::qWait(30);
    EXPECT_EQ(designer.slow_designs, designs);
    EXPECT_FALSE(session().analysis()->takes.back()->problem);
}

TEST_F(Jobs, TheButtonStopsAndStartsAgain) {
    designer.steps_of_ms = 100000;
    set_gain(-3);
    ASSERT_TRUE(begun(2));
    QTest::mouseClick(box().button(), Qt::LeftButton);
    ASSERT_TRUE(QTest::qWaitFor([&] { return designer.stops == 1; }, 20000));
    EXPECT_EQ(box().button()->text(), "Start again");
    EXPECT_TRUE(session().jobs().at(0).is_stopped);
    EXPECT_TRUE(all_undecided()) << "nobody knows";
    // Another stage is changed: what was stopped stays stopped.
    session().edit_channel("Another stage", [](Channel& c) { c.stages[1].edit().enabled = false; });
    QTest::qWait(30);
    EXPECT_EQ(designer.slow_designs, 2);
    designer.steps_of_ms = 1;
    QTest::mouseClick(box().button(), Qt::LeftButton);
    ASSERT_TRUE(settled());
    EXPECT_NEAR(stage_level(), -3, 1e-9);
}

TEST_F(Jobs, PanesSayThatTheyWait) {
    designer.steps_of_ms = 100000;
    set_gain(-3);
    const Rail& rail = *window->rail();
    EXPECT_TRUE(rail.cards().at(0)->toolTip().isEmpty()) << "it is no problem";
    EXPECT_FALSE(session().working());
    window->upper()->show_page(1);
    const auto* numbers = window->findChild<NumbersPane*>();
    EXPECT_EQ(numbers->item(0, 1)->text(), "being designed…");
}

} // namespace
} // namespace syntonon::test
