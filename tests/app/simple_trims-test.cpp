// Gain, delay and taps in the window: added from the rail, trimmed by hand.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dialogs/taps_in_dialog.h"
#include "app/model/stage_commands.h"
#include "app/panes/numbers_pane.h"
#include "app/panes/roots/roots_pane.h"
#include "app/panes/time_pane.h"
#include "app/panes/trim/new_stages.h"
#include "app/panes/trim/simple_trims.h"
#include "app/panes/trim/taps_trim.h"
#include "core/base/number_text.h"
#include "tests/app/window_fixture.h"

#include <QCheckBox>
#include <QClipboard>
#include <QLabel>
#include <QMenu>
#include <QPushButton>

namespace syntonon::test {
namespace {

class SimpleTrims : public Window {
protected:
    void add(const char* title) {
        for (QAction* action : window->rail()->add_button()->menu()->actions()) {
            if (action->text() == title) {
                action->trigger();
            }
        }
    }
    template <class Spec>
    const Spec& spec_of_selected() {
        return std::get<Spec>(*session().stage()->spec);
    }
    FieldsTrim& fields() { return dynamic_cast<FieldsTrim&>(*window->trim()->panel()); }
    QString shown(const char* key) { return fields().field(key)->editor()->text(); }
    double level_at(double hz) { return session().point_at(hz)->chain.magnitude_db; }
};

TEST_F(SimpleTrims, AGainRaisesTheChainAndTurnsItsPolarity) {
    const double before = level_at(1000);
    add("Gain");
    EXPECT_EQ(undo_name(), "Add Gain 0.0 dB");
    type(fields().field("gain_db"), "-6");
    EXPECT_NEAR(level_at(1000), before - 6, 1e-9);
    EXPECT_EQ(undo_name(), "Change Gain 0.0 dB");
    type(fields().field("factor"), "2");
    EXPECT_EQ(spec_of_selected<GainSpec>().factor, 2.0);
    EXPECT_TRUE(shown("gain_db").startsWith("+6.02")) << shown("gain_db").toStdString();
    auto& trim = dynamic_cast<GainTrim&>(fields());
    QTest::mouseClick(trim.invert(), Qt::LeftButton, {}, QPoint(8, trim.invert()->height() / 2));
    EXPECT_EQ(spec_of_selected<GainSpec>().factor, -2.0);
    EXPECT_TRUE(trim.invert()->isChecked());
    session().history().undo();
    EXPECT_FALSE(trim.invert()->isChecked());
    type(fields().field("gain_db"), "500");
    EXPECT_FALSE(fields().field("gain_db")->problem().isEmpty());
    EXPECT_EQ(spec_of_selected<GainSpec>().factor, 2.0) << "not taken";
}

TEST_F(SimpleTrims, ADelayIsShownInSamplesTimeAndWay) {
    add("Delay");
    type(fields().field("metres"), "3.43");
    EXPECT_EQ(shown("ms"), "10.000");
    EXPECT_EQ(shown("samples"), "480.000");
    EXPECT_EQ(session().analysis()->latency_samples, 480);
    type(fields().field("samples"), "96");
    EXPECT_EQ(shown("ms"), "2.000");
    EXPECT_EQ(spec_of_selected<DelaySpec>().unit, DelayUnit::samples);
}

TEST_F(SimpleTrims, TapsArePastedCheckedAndCopied) {
    add("Taps");
    auto& trim = dynamic_cast<TapsTrim&>(*window->trim()->panel());
    QGuiApplication::clipboard()->setText("0.25\n0.5\n0.25\n");
    trim.paste();
    EXPECT_EQ(*spec_of_selected<TapsSpec>().taps, (std::vector<double>{0.25, 0.5, 0.25}));
    EXPECT_EQ(session().analysis()->cost.taps, 3);
    QGuiApplication::clipboard()->setText("0.25\nhalf\n");
    trim.paste();
    EXPECT_TRUE(trim.problem()->text().contains("line 2")) << trim.problem()->text().toStdString();
    EXPECT_EQ(spec_of_selected<TapsSpec>().taps->size(), 3u) << "nothing is lost";
    trim.copy();
    EXPECT_EQ(QGuiApplication::clipboard()->text(), "0.25\n0.5\n0.25\n");
}

TEST_F(SimpleTrims, EveryPaneIsRightForAChainOfAllKinds) {
    add("Taps");
    dynamic_cast<TapsTrim&>(*window->trim()->panel()).take(TakenTaps{{1, 0, 1}});
    const std::string taps = session().selection().stage;
    add("Delay");
    type(fields().field("samples"), "5");
    const auto analysis = session().analysis();
    // 1 + z^-2 has its zeros at a quarter of the rate, on the circle.
    EXPECT_EQ(level_at(12000), -INFINITY);
    bool found = false;
    for (const RootShare& share : root_shares(session(), 1000)) {
        found = found || share.stage == taps;
    }
    EXPECT_TRUE(found) << "the taps' zeros are among the roots";
    window->upper()->show_page(1);
    auto& numbers = *window->upper()->findChild<NumbersPane*>();
    ASSERT_EQ(numbers.rowCount(), 10);
    EXPECT_EQ(numbers.item(6, 1)->text(), "b0 = 1") << "taps have their index";
    EXPECT_EQ(numbers.item(8, 1)->text(), "b2 = 1");
    EXPECT_EQ(numbers.item(9, 1)->text(), "5 samples") << "what has no sections says what it is";
    // The answer in time is that of the whole chain, the delay included.
    const auto impulse = analysis->chain.impulse_response(8);
    EXPECT_EQ(impulse[4], 0);
    EXPECT_NE(impulse[5], 0);
    EXPECT_FALSE(analysis->chain.sections()) << "an export says why";
}

} // namespace
} // namespace syntonon::test
