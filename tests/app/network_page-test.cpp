// What the window shows of networks: their page, curves, marks, knobs, identities and delay lines.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/desks/shape_desk.h"
#include "app/model/stage_commands.h"
#include "app/panes/delay_line_pane.h"
#include "app/panes/network_pane.h"
#include "app/panes/time_table.h"
#include "app/panes/trim/network_trims.h"
#include "app/widgets/knob_bar.h"
#include "core/base/units.h"
#include "core/study/starting_points.h"
#include "tests/app/window_fixture.h"

#include <QComboBox>
#include <QLabel>
#include <QSpinBox>
#include <QTreeWidget>
#include <algorithm>
#include <cmath>

namespace syntonon::test {
namespace {

class NetworkPage : public Window {
protected:
    void SetUp() override {
        Window::SetUp();
        use_empty_channel();
    }
    void add(const char* title) { choose(*window->rail()->add_button(), title); }
    QTreeWidget* tree() { return window->findChild<NetworkPane*>()->tree(); }
    // The first row whose first words are these; null without.
    QTreeWidgetItem* row(const QString& words) {
        const auto found = tree()->findItems(words, Qt::MatchStartsWith | Qt::MatchRecursive);
        return found.isEmpty() ? nullptr : found.front();
    }
    QStringList words_above() { return window->upper()->tabs()->names(); }
    void show_page() { window->show_shape_page(ShapeDesk::network); }
    bool is_shown(const char* key) { return window->lanes()->curves().is_shown(key); }
    QStringList named_curves() {
        QStringList names;
        for (const PlacedLabel& label : window->lanes()->labels()) {
            names << label.label.text;
        }
        return names;
    }
};

TEST_F(NetworkPage, ShowsItselfWhereThereIsANetwork) {
    EXPECT_FALSE(words_above().contains("Network"));
    add("Peak");
    EXPECT_FALSE(words_above().contains("Network"));
    show_page();
    EXPECT_EQ(window->upper()->shown_page(), ShapeDesk::roots) << "there is none to show";
    add("Loop");
    EXPECT_TRUE(words_above().contains("Network"));
    show_page();
    EXPECT_EQ(window->upper()->shown_page(), ShapeDesk::network);
    ASSERT_NE(row("gain may rise by"), nullptr);
    EXPECT_EQ(row("gain may rise by")->text(1), "+6.02 dB");
    EXPECT_EQ(row("y[n]")->text(0), "y[n] = x[n] + 0.5 y[n−1]");
    EXPECT_EQ(row("a[1]")->text(1), "−0.5");
    // Its delay stands in it; the peak does not, and takes the page away.
    const auto& stages = session().channel()->stages;
    session().select_stage(std::get<LoopSpec>(*stages[1]->spec).feedback.stages[0]->id);
    EXPECT_EQ(window->upper()->shown_page(), ShapeDesk::network);
    session().select_stage(stages[0]->id);
    EXPECT_FALSE(words_above().contains("Network"));
    EXPECT_EQ(window->upper()->shown_page(), ShapeDesk::roots);
}

TEST_F(NetworkPage, TakesThePlumbLineToANotch) {
    add("Split");
    session().edit_stage("delay", [](Stage& s) {
        auto& split = std::get<SplitSpec>(s.spec.edit());
        split.branches[0].factor = split.branches[1].factor = 0.5;
        Stage delay;
        delay.id = "late";
        delay.spec = DelaySpec{DelayUnit::samples, 24};
        split.branches[1].stages.emplace_back(delay);
    });
    show_page();
    ASSERT_NE(row("notch"), nullptr);
    EXPECT_EQ(row("notch")->text(2), "1 kHz");
    EXPECT_EQ(row("notch")->text(1), "−∞ dB");
    EXPECT_EQ(row("sum, highest")->text(1), "0.00 dB");
    EXPECT_EQ(row("difference, deepest")->text(1), "−∞ dB") << "at 2 kHz";
    emit tree()->itemClicked(row("notch"), 0);
    EXPECT_NEAR(*session().plumb().hz(), 1000, 1e-6);
    EXPECT_TRUE(session().plumb().is_pinned());
    // Marked on the lane, too: 1, 3, 5, ... 19 kHz among those that are in view.
    const auto marks = window->lanes()->curves().marks();
    ASSERT_EQ(marks.size(), 23u);
    EXPECT_EQ(marks[0].text, "1k");
    EXPECT_FALSE(marks[0].is_peak);
    EXPECT_TRUE(marks[1].is_peak);
    LaneView view = window->lanes()->view();
    view.marks = false;
    window->lanes()->change_view(view);
    EXPECT_TRUE(window->lanes()->curves().marks().empty());
}

TEST_F(NetworkPage, MarksADipBesideFlatGround) {
    // A crossover that sums to an all-pass trembles by rounding everywhere but at the dip behind
    // it.
    const auto points = starting_points();
    const auto flat =
        std::ranges::find(points, "All-pass from low and high", &StartingPoint::title);
    ASSERT_NE(flat, points.end());
    add_stages(session(), "flat", flat->stages, {});
    EXPECT_TRUE(window->lanes()->curves().marks().empty());
    add("Peak");
    session().edit_stage("dip", [](Stage& s) {
        auto& peak = std::get<ParametricSpec>(s.spec.edit());
        peak.frequency_hz = 1000;
        peak.gain_db = -9;
        peak.width = {WidthKind::q, 30};
    });
    const auto marks = window->lanes()->curves().marks();
    ASSERT_EQ(marks.size(), 1u);
    EXPECT_FALSE(marks[0].is_peak);
    EXPECT_NEAR(marks[0].hz, 1000, 1);
}

TEST_F(NetworkPage, DrawsThePartsThatAreAskedFor) {
    add("Loop");
    EXPECT_TRUE(named_curves().contains("without feedback"))
        << named_curves().join(", ").toStdString();
    show_page();
    EXPECT_FALSE(is_shown("part:open_loop"));
    ASSERT_NE(row("round the loop"), nullptr);
    row("round the loop")->setCheckState(0, Qt::Checked);
    EXPECT_TRUE(is_shown("part:open_loop"));
    EXPECT_TRUE(named_curves().contains("round the loop"));
    bool is_read = false;
    for (const ReadoutRow& read : window->lanes()->curves().readout_at(1000)) {
        is_read = is_read || (read.name == "round the loop" && read.value == "−6.02 dB");
    }
    EXPECT_TRUE(is_read);
    row("without feedback")->setCheckState(0, Qt::Unchecked);
    EXPECT_FALSE(named_curves().contains("without feedback"));
}

TEST_F(NetworkPage, StagesAreLookedAtTogether) {
    add("Peak");
    session().edit_stage("gain",
                         [](Stage& s) { std::get<ParametricSpec>(s.spec.edit()).gain_db = 4; });
    add("Gain");
    session().edit_stage("gain", [](Stage& s) { std::get<GainSpec>(s.spec.edit()).gain_db = -3; });
    add("Peak");
    const auto cards = window->rail()->cards();
    QTest::mouseClick(cards[0], Qt::LeftButton, Qt::NoModifier, {20, 10});
    QTest::mouseClick(cards[1], Qt::LeftButton, Qt::ControlModifier, {20, 10});
    EXPECT_EQ(session().marked().size(), 2u);
    EXPECT_EQ(session().selection().stage, cards[1]->id()) << "its fields are shown";
    EXPECT_TRUE(named_curves().contains("2 stages together"));
    const double hz = std::get<ParametricSpec>(*session().channel()->stages[0]->spec).frequency_hz;
    bool is_read = false;
    for (const ReadoutRow& read : window->lanes()->curves().readout_at(hz)) {
        is_read = is_read || (read.name == "2 stages together" && read.value == "+1.00 dB");
    }
    EXPECT_TRUE(is_read);
    cards[2]->setFocus(Qt::OtherFocusReason);
    EXPECT_TRUE(session().marked().empty()) << "another one is selected";
    QTest::keyClick(cards[2], Qt::Key_Space, Qt::ControlModifier);
    EXPECT_TRUE(session().marked().empty()) << "one alone is no company";
    QTest::mouseClick(cards[0], Qt::LeftButton, Qt::ControlModifier, {20, 10});
    EXPECT_EQ(session().marked().size(), 2u);
    QTest::mouseClick(cards[0], Qt::LeftButton, Qt::ControlModifier, {20, 10});
    EXPECT_TRUE(session().marked().empty());
    EXPECT_EQ(session().selection().stage, cards[2]->id());
}

TEST_F(NetworkPage, TheKnobKnowsFromWhereOnTheLoopIsUnstable) {
    add("Loop");
    auto& trim = dynamic_cast<LoopTrim&>(*window->trim()->panel());
    KnobBar& knob = *trim.knob();
    ASSERT_EQ(knob.marks().size(), 2u);
    EXPECT_NEAR(knob.marks()[0].value, -1, 1e-9);
    EXPECT_NEAR(knob.marks()[1].value, 1, 1e-9);
    EXPECT_TRUE(trim.words()->text().contains("6.02 dB")) << trim.words()->text().toStdString();
    const auto at = [&](double value) {
        return QPoint(static_cast<int>(std::lround(knob.x_of(value))), 15);
    };
    const auto factor = [&] {
        return std::get<LoopSpec>(*session().channel()->stages[0]->spec).feedback.factor;
    };
    const int before = session().history().count();
    QTest::mousePress(&knob, Qt::LeftButton, Qt::NoModifier, at(0.2));
    QTest::mouseMove(&knob, at(0.6));
    QTest::mouseMove(&knob, at(-0.4));
    QTest::mouseRelease(&knob, Qt::LeftButton, Qt::NoModifier, at(-0.4));
    EXPECT_NEAR(factor(), -0.4, 0.02);
    EXPECT_EQ(session().history().count(), before + 1) << "one drag, one step";
    QTest::keyClick(&knob, Qt::Key_Right);
    EXPECT_NEAR(factor(), -0.4 + 0.023, 0.02);
    session().history().undo();
    session().history().undo();
    EXPECT_EQ(factor(), 0.5);
    EXPECT_EQ(knob.value(), 0.5);
    QTest::mouseClick(&knob, Qt::LeftButton, Qt::NoModifier, at(1.1));
    EXPECT_GT(factor(), 1);
    EXPECT_TRUE(trim.words()->text().contains("unstable"));
}

TEST_F(NetworkPage, TheCountIsOnAKnob) {
    add("Repeat");
    auto& trim = dynamic_cast<RepeatTrim&>(*window->trim()->panel());
    QTest::keyClick(trim.knob(), Qt::Key_Right);
    QTest::keyClick(trim.knob(), Qt::Key_Right);
    EXPECT_EQ(std::get<RepeatSpec>(*session().channel()->stages[0]->spec).count, 4);
    QTest::mouseClick(trim.knob(), Qt::LeftButton, Qt::NoModifier,
                      QPoint(trim.knob()->width() - 1, 15));
    EXPECT_EQ(std::get<RepeatSpec>(*session().channel()->stages[0]->spec).count, 128);
}

TEST_F(NetworkPage, IdentitiesStandBesideTheRail) {
    QLabel* line = window->rail()->identities();
    add("Peak");
    session().edit_stage("gain",
                         [](Stage& s) { std::get<ParametricSpec>(s.spec.edit()).gain_db = 5; });
    add("Peak");
    session().edit_stage("gain",
                         [](Stage& s) { std::get<ParametricSpec>(s.spec.edit()).gain_db = -5; });
    EXPECT_TRUE(QTest::qWaitFor([&] { return line->text().contains("cancel"); }))
        << line->text().toStdString();
    EXPECT_TRUE(line->text().contains("sums to one"));
    session().edit_stage("gain",
                         [](Stage& s) { std::get<ParametricSpec>(s.spec.edit()).gain_db = -4.99; });
    EXPECT_TRUE(line->text().isEmpty()) << "what held may hold no longer";
    EXPECT_TRUE(QTest::qWaitFor([&] { return line->text().contains("minimum phase"); }));
    EXPECT_FALSE(line->text().contains("cancel"));
}

TEST_F(NetworkPage, TheDelayLineIsSeenSampleBySample) {
    add("Loop");
    session().edit_stage("delay", [](Stage& s) {
        auto& loop = std::get<LoopSpec>(s.spec.edit());
        std::get<DelaySpec>(loop.feedback.stages[0].edit().spec.edit()).value = 4;
    });
    window->lower()->show_page(ShapeDesk::delay_line);
    auto& pane = *window->findChild<DelayLinePane*>();
    ASSERT_EQ(pane.lines().size(), 1u);
    EXPECT_EQ(pane.lines()[0].taps, (std::vector<double>{1}));
    EXPECT_EQ(pane.last_output(), 1);
    QTest::keyClicks(pane.sample(), "9");
    pane.sample()->setValue(4);
    EXPECT_EQ(pane.last_output(), 0.5) << "what went in four samples ago";
    EXPECT_EQ(pane.lines()[0].taps, (std::vector<double>{0.5, 0, 0, 0}));
    pane.input()->setCurrentIndex(1);
    EXPECT_EQ(pane.last_output(), 1.5);
    EXPECT_EQ(pane.lines()[0].taps, (std::vector<double>{1.5, 1, 1, 1}));
    window->lower()->show_page(ShapeDesk::table);
    auto& table = *window->findChild<TimeTable*>();
    EXPECT_EQ(table.rowCount(), 32);
    EXPECT_EQ(table.item(4, 1)->text(), "0.5");
    EXPECT_EQ(table.item(31, 2)->text(), "1.9921875") << "1 + 1/2 + ... + 1/128";
}

TEST_F(NetworkPage, RipplesTooDenseForALineAreABand) {
    add("Loop");
    session().edit_stage("delay", [](Stage& s) {
        auto& loop = std::get<LoopSpec>(s.spec.edit());
        std::get<DelaySpec>(loop.feedback.stages[0].edit().spec.edit()).value = 48000;
    });
    // Filled from -3.5 to +6 dB at 1 kHz, and nothing beyond.
    window->lanes()->show_curve("part:without", false);
    session().select_stage({});
    const QImage picture = window->lanes()->grab().toImage();
    const auto is_ground = [&](double db) {
        const double x = window->lanes()->x_of(1000) + 7;
        const double y = window->lanes()->y_of(Lane::magnitude, db);
        const qreal scale = picture.devicePixelRatio();
        return picture.pixelColor(static_cast<int>(x * scale), static_cast<int>(y * scale))
               == theme().panel;
    };
    EXPECT_FALSE(is_ground(5));
    EXPECT_FALSE(is_ground(-2));
    EXPECT_TRUE(is_ground(8));
    EXPECT_TRUE(is_ground(-5));
}

} // namespace
} // namespace syntonon::test
