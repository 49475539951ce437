// Signals through the chain.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/desks/listen_desk.h"
#include "app/model/stage_commands.h"
#include "app/panes/listen/samples_table.h"
#include "app/panes/listen/signal_pane.h"
#include "app/panes/listen/signals_view.h"

#include <QClipboard>
#include <QPlainTextEdit>
#include <QRadioButton>
#include <QSpinBox>

namespace syntonon {
namespace {

class Listen : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        window->show_desk(Desk::listen);
        QTest::qWait(10);
    }
    ListenDesk& desk() { return window->listen(); }
    const std::vector<double>& out() { return desk().signals_view()->output(); }
    // y[n] = x[n] + x[n-1], doubled.
    void use_simple_chain() {
        session().edit("simple", [](Study& s) {
            Chain& stages = s.channels[0].edit().stages;
            stages.clear();
            Stage taps, gain;
            taps.id = "t";
            taps.spec = TapsSpec{std::make_shared<const std::vector<double>>(2, 1.0)};
            gain.id = "g";
            gain.spec = GainSpec{0, false, 2};
            stages.emplace_back(taps);
            stages.emplace_back(gain);
        });
    }
};

TEST_F(Listen, AnImpulseGivesTheImpulseResponse) {
    const auto expected = session().analysis()->chain.impulse_response(64);
    EXPECT_EQ(out(), expected);
    EXPECT_EQ(desk().signals_view()->input()[0], 1);
    ASSERT_EQ(desk().table()->rowCount(), 32);
    EXPECT_EQ(desk().table()->item(5, 2)->toolTip().toDouble(), expected[5]);
}

TEST_F(Listen, AStepGivesItsSum) {
    QTest::mouseClick(desk().signal_pane()->choice(SignalKind::step), Qt::LeftButton, {}, {8, 8});
    const auto impulse = session().analysis()->chain.impulse_response(64);
    double sum = 0;
    for (std::size_t i = 0; i < impulse.size(); ++i) {
        sum += impulse[i];
        EXPECT_NEAR(out()[i], sum, 1e-12);
    }
}

TEST_F(Listen, NumbersAreTypedOrPasted) {
    use_simple_chain();
    QPlainTextEdit* edit = desk().signal_pane()->numbers();
    edit->setFocus();
    QTest::keyClicks(edit, "1 -0.5; 3");
    EXPECT_TRUE(desk().signal_pane()->choice(SignalKind::numbers)->isChecked());
    EXPECT_EQ((std::vector<double>(out().begin(), out().begin() + 5)),
              (std::vector<double>{2, 1, 5, 6, 0}));
    QTest::keyClicks(edit, " x");
    EXPECT_TRUE(desk().signal_pane()->problem().contains("“x” is not a number"));
    EXPECT_EQ(out()[3], 6) << "what cannot be read leaves the signal as it was";
    QGuiApplication::clipboard()->setText("1\n0\n1\n");
    edit->selectAll();
    edit->paste();
    EXPECT_TRUE(desk().signal_pane()->problem().isEmpty());
    EXPECT_EQ((std::vector<double>(out().begin(), out().begin() + 5)),
              (std::vector<double>{2, 2, 2, 2, 0}));
}

TEST_F(Listen, WritesTheDifferenceEquation) {
    use_simple_chain();
    EXPECT_EQ(desk().signals_view()->equation(), "u1[n] = x[n] + x[n−1]\ny[n] = 2 u1[n]");
}

TEST_F(Listen, FollowsTheChainAndItsTrims) {
    session().select_stage(id(4));
    const auto before = out();
    type(trim().gain(), "3");
    EXPECT_NE(out(), before);
    desk().signal_pane()->length()->setValue(200);
    EXPECT_EQ(out().size(), 200u);
}

TEST_F(Listen, CopiesValuesWithAllDigits) {
    desk().table()->setCurrentCell(1, 2);
    desk().table()->item(1, 2)->setSelected(true);
    QTest::keyClick(desk().table(), Qt::Key_C, Qt::ControlModifier);
    EXPECT_EQ(QGuiApplication::clipboard()->text().toDouble(), out()[1]);
}

} // namespace
} // namespace syntonon
