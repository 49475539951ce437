// The study's curves on their desk.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/desks/measure_desk.h"
#include "app/model/curve_commands.h"
#include "app/panes/measure/curves_pane.h"
#include "app/panes/measure/positions_pane.h"

#include <QMenu>
#include <QPushButton>
#include <QTableWidget>
#include <QToolButton>
#include <QTreeWidget>
#include <QWheelEvent>
#include <cmath>

namespace syntonon {
namespace {

class Measure : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        session().edit("one position each", [](Study& s) {
            for (auto& channel : s.channels) {
                if (!channel->measured.empty()) {
                    channel.edit().measured.resize(1);
                }
            }
        });
        window->show_desk(Desk::measure);
        QTest::qWait(20);
    }
    MeasureDesk& desk() { return window->measure(); }
    LaneStack& curves() { return *desk().lanes(); }
    QTableWidget& table() { return *desk().curves()->table(); }
    QStringList drawn() {
        QStringList keys;
        for (const CurveName& curve : curves().curves().curves()) {
            if (curves().curves().is_shown(curve.key)) {
                keys << curve.key;
            }
        }
        return keys;
    }
    void take(int row) { table().setCurrentCell(row, CurvesPane::position); }
};

TEST_F(Measure, ListsEveryCurveWithWhatOneAsksOfIt) {
    ASSERT_EQ(table().rowCount(), 12);
    const auto cell = [&](int row, int column) { return table().item(row, column)->text(); };
    EXPECT_EQ(cell(0, CurvesPane::channels), "Zenith");
    EXPECT_EQ(cell(1, CurvesPane::channels), "–");
    EXPECT_EQ(cell(0, CurvesPane::position), "Zenith, row A");
    EXPECT_EQ(cell(0, CurvesPane::points), "1085");
    EXPECT_EQ(cell(0, CurvesPane::range), "9.52 Hz–23.9 kHz");
    const double mean = mean_level_db(*session().study().curves[0], 200, 5000).value();
    EXPECT_TRUE(cell(0, CurvesPane::level).startsWith(QStringLiteral("+%1").arg(mean, 0, 'f', 1)));
    EXPECT_EQ(table().item(0, CurvesPane::position)->toolTip(), "Zenith, row A");
}

TEST_F(Measure, SaysHowToBeginWhereNothingIsMeasured) {
    EXPECT_EQ(desk().positions()->said(), "");
    session().edit("nothing measured", [](Study& s) {
        s.curves.clear();
        for (auto& channel : s.channels) {
            channel.edit().measured.clear();
        }
    });
    QTest::qWait(20);
    EXPECT_TRUE(desk().positions()->said().contains("measure with a sweep"));
}

TEST_F(Measure, ShowsTheChannelsPositionsAndOthersOnRequest) {
    EXPECT_EQ(drawn(), QStringList{"curve:zenith-a"});
    session().select_channel(1);
    EXPECT_EQ(drawn(), QStringList{"curve:sunrise-a"});
    QTreeWidgetItem* other = desk().positions()->row_of("sunrise-c");
    ASSERT_NE(other, nullptr);
    other->setCheckState(0, Qt::Checked);
    QTest::qWait(10);
    EXPECT_EQ(drawn(), (QStringList{"curve:sunrise-a", "curve:sunrise-c"}));
    session().curve_in_hand().take("sunrise-c");
    const auto buttons = desk().positions()->findChildren<QPushButton*>();
    const auto press = [&](const QString& text) {
        for (QPushButton* button : buttons) {
            if (button->text() == text) {
                button->click();
            }
        }
    };
    press("Show alone");
    EXPECT_EQ(drawn(), QStringList{"curve:sunrise-c"});
    press("Show together");
    EXPECT_EQ(drawn().size(), 2);
}

TEST_F(Measure, DrawsPhaseAndDelayWhereACurveHasPhase) {
    curves().redraw_now();
    const auto extent = [&](Lane lane) {
        std::optional<std::pair<double, double>> found;
        for (const LaneCurve& curve : curves().curves().curves_in_work()) {
            if (const auto one = curves().extent_of(curve, lane)) {
                found = one;
            }
        }
        return found;
    };
    EXPECT_TRUE(extent(Lane::magnitude));
    EXPECT_TRUE(extent(Lane::phase));
    const auto delay = extent(Lane::delay);
    ASSERT_TRUE(delay);
    EXPECT_GT(delay->second, 5) << "ms around the resonance at 63 Hz";
    session().edit("no phase", [](Study& s) { s.curves[0].edit().phase_deg.clear(); });
    EXPECT_TRUE(extent(Lane::magnitude));
    EXPECT_FALSE(extent(Lane::phase));
    EXPECT_FALSE(extent(Lane::delay));
}

TEST_F(Measure, AsksForANameOnceHoweverOftenRenameIsClicked) {
    take(1);
    static int complaints;
    complaints = 0;
    const auto before =
        qInstallMessageHandler([](QtMsgType, const QMessageLogContext&, const QString& words) {
            complaints += words.contains("editing failed") ? 1 : 0;
        });
    for (auto* button : desk().curves()->findChildren<QPushButton*>()) {
        if (button->text() == "Rename") {
            button->click();
            button->click();
        }
    }
    qInstallMessageHandler(before);
    EXPECT_TRUE(table().isPersistentEditorOpen(table().item(1, CurvesPane::position)));
    EXPECT_EQ(complaints, 0);
}

TEST_F(Measure, RenamesRecoloursRemovesAndAssigns) {
    take(1);
    EXPECT_EQ(session().curve_in_hand().id(), "zenith-b");
    table().item(1, CurvesPane::position)->setText("Second row");
    QTest::qWait(10);
    EXPECT_EQ(session().study().curves[1]->name, "Second row");
    EXPECT_EQ(undo_name(), "Rename curve Zenith, row B");

    QMenu* channels = desk().curves()->give_button()->menu();
    emit channels->aboutToShow();
    ASSERT_EQ(channels->actions().size(), 7);
    channels->actions().at(0)->trigger();
    EXPECT_EQ(session().study().channels[0]->measured, (MeasuredSet{{"zenith-a"}, {"zenith-b"}}));
    EXPECT_EQ(drawn(), (QStringList{"curve:zenith-a", "curve:zenith-b", "average", "spread"}));
    emit channels->aboutToShow();
    EXPECT_TRUE(channels->actions().at(0)->isChecked());
    channels->actions().at(0)->trigger();
    EXPECT_EQ(session().study().channels[0]->measured, (MeasuredSet{{"zenith-a"}}));

    desk().curves()->remove_button()->click();
    EXPECT_EQ(curve_of(session().study(), "zenith-b"), nullptr);
    session().history().undo();
    EXPECT_NE(curve_of(session().study(), "zenith-b"), nullptr);
}

TEST_F(Measure, WeighsPositions) {
    assign_curve(session(), "zenith-b", 0, true);
    QTest::qWait(10);
    QTreeWidgetItem* row = desk().positions()->row_of("zenith-b");
    ASSERT_NE(row, nullptr);
    row->setText(1, "0.25");
    QTest::qWait(10);
    EXPECT_EQ(session().study().channels[0]->measured,
              (MeasuredSet{{"zenith-a"}, {"zenith-b", 0.25}}));
    EXPECT_EQ(undo_name(), "Weigh Zenith, row B");
    for (const char* wrong : {"-1", "much", ""}) {
        desk().positions()->row_of("zenith-b")->setText(1, wrong);
        QTest::qWait(10);
        EXPECT_EQ(desk().positions()->row_of("zenith-b")->text(1), "0.25") << wrong;
    }
}

TEST_F(Measure, ReadsEveryShownCurveAtThePlumbLine) {
    session().curve_in_hand().take("zenith-a");
    const auto rows = curves().curves().readout_at(63);
    ASSERT_GE(rows.size(), 2u);
    EXPECT_EQ(rows[0].name, "Zenith, row A");
    const double level = session().analysis()->measured->reader.magnitude_db_at(63);
    EXPECT_TRUE(rows[0].value.contains(QString::number(std::abs(level), 'f', 2)));
    EXPECT_EQ(rows[1].name, "phase");
    EXPECT_EQ(curves().curves().readout_at(23'990)[0].value, "not measured");
}

TEST_F(Measure, NoPeakIsLostInACurveOfManyPoints) {
    // 60,000 points with a single one standing out.
    Curve curve;
    curve.id = curve.name = "fine";
    for (int i = 0; i < 60'000; ++i) {
        curve.frequency_hz.push_back(20 * std::pow(1000.0, i / 60'000.0));
        curve.magnitude_db.push_back(i == 31'417 ? 12 : 0);
    }
    session().edit("fine", [&](Study& s) { s.curves.emplace_back(curve); });
    curves().show_alone("curve:fine");
    curves().redraw_now();
    const auto extent = curves().extent_of(curves().curves().curves_in_work()[0], Lane::magnitude);
    ASSERT_TRUE(extent);
    EXPECT_EQ(extent->second, 12);
    EXPECT_LT(curves().curves().curves_in_work()[0].pixels_between(0, 2000).size(), 3000u);
}

TEST_F(Measure, LevelsFarFromTheLaneAreSaid) {
    session().edit("loud", [](Study& s) {
        for (double& level : s.curves[0].edit().magnitude_db) {
            level += 80;
        }
    });
    curves().redraw_now();
    EXPECT_TRUE(curves().beyond_text(Lane::magnitude).contains("▲ up to 9"))
        << curves().beyond_text(Lane::magnitude).toStdString();
    curves().show_all_of(Lane::magnitude);
    EXPECT_TRUE(curves().beyond_text(Lane::magnitude).isEmpty());
    EXPECT_GT(curves().range(Lane::magnitude).high, 90);
}

TEST_F(Measure, AWeightIsTypedWithoutTheMouse) {
    QTreeWidget* tree = desk().positions()->tree();
    tree->setFocus();
    tree->setCurrentItem(desk().positions()->row_of("zenith-a"));
    QTest::qWait(20);
    QTest::keyClick(tree, Qt::Key_Return);
    auto* field = tree->findChild<QLineEdit*>();
    ASSERT_NE(field, nullptr) << "Enter opens the weight";
    field->selectAll();
    QTest::keyClicks(field, "0.5");
    QTest::keyClick(field, Qt::Key_Return);
    ASSERT_EQ(session().channel()->measured.size(), 1u);
    // The editor hands over once its events have run; a busy machine takes its time.
    QTRY_COMPARE_WITH_TIMEOUT(session().channel()->measured[0].weight, 0.5, 2000);
}

TEST_F(Measure, SmoothingIsTurnedAsADial) {
    QToolButton& dial = *desk().smoothing_button();
    EXPECT_EQ(dial.text(), "Smoothing: not smoothed");
    dial.setFocus();
    QTest::keyClick(&dial, Qt::Key_Up);
    EXPECT_EQ(desk().look().smoothing().width_oct, 1.0 / 48);
    QTest::keyClick(&dial, Qt::Key_Up);
    EXPECT_EQ(desk().look().smoothing().width_oct, 1.0 / 24);
    QTest::keyClick(&dial, Qt::Key_Down);
    EXPECT_EQ(desk().look().smoothing().width_oct, 1.0 / 48);
    const auto turn = [&](int by) {
        const QPointF at = dial.rect().center();
        QWheelEvent event(at, dial.mapToGlobal(at), {}, {0, by}, Qt::NoButton, Qt::NoModifier,
                          Qt::NoScrollPhase, false);
        QApplication::sendEvent(&dial, &event);
    };
    turn(240);
    EXPECT_EQ(desk().look().smoothing().width_oct, 1.0 / 12);
    turn(60);
    EXPECT_EQ(desk().look().smoothing().width_oct, 1.0 / 12) << "half a notch";
    turn(60);
    EXPECT_EQ(desk().look().smoothing().width_oct, 1.0 / 6);
    turn(-12'000);
    EXPECT_TRUE(desk().look().smoothing().is_none()) << "no further";
    turn(12'000);
    EXPECT_EQ(desk().look().smoothing().kind, SmoothingKind::psychoacoustic);
}

} // namespace
} // namespace syntonon
