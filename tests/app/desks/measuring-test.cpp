// From impulse responses to curves: gates, averages, alignment, many files at once, the sweep.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/desks/measure_desk.h"
#include "app/dialogs/measurements_dialog.h"
#include "app/model/import_measurements.h"
#include "app/model/measure_commands.h"
#include "app/panes/companion.h"
#include "app/panes/measure/decay_pages.h"
#include "app/panes/measure/harmonics_page.h"
#include "app/panes/measure/impulse_pane.h"
#include "app/panes/measure/impulse_plot.h"
#include "app/panes/measure/levels_pane.h"
#include "app/panes/measure/microphone_page.h"
#include "app/panes/measure/positions_pane.h"
#include "app/panes/measure/simulated_room_box.h"
#include "app/panes/measure/sound_device_box.h"
#include "app/panes/measure/sweep_page.h"
#include "app/widgets/quantity_edit.h"
#include "demo/dome.h"
#include "tests/support/pulse_server.h"
#include "tests/support/sounds.h"

#include <QComboBox>
#include <QDragEnterEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QMimeData>
#include <QPushButton>
#include <QTableWidget>
#include <QToolButton>
#include <QTreeWidget>
#include <QUrl>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

class Measuring : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        window->show_desk(Desk::measure);
        QTest::qWait(20);
    }
    MeasureDesk& desk() { return window->measure(); }
    ImpulsePane& impulse() { return *desk().impulse(); }
    const Gate& gate() { return session().study().gates.at(0).gate; }
    const Curve& row_a() { return *session().study().curves.at(0); }
    void type(QuantityEdit* edit, const QString& text) {
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, text);
        QTest::keyClick(edit, Qt::Key_Return);
    }
    template <class Page>
    Page& page(Companion& companion) {
        for (int i = 0;; ++i) {
            if (auto* found = qobject_cast<Page*>(companion.page(i))) {
                companion.show_page(i);
                QTest::qWait(10);
                return *found;
            }
        }
    }
    QString file(const char* name) { return QString::fromStdString(scratch.file(name).string()); }
    MeasurementsDialog* dialog() {
        QTest::qWait(10);
        return window->findChild<MeasurementsDialog*>();
    }
};

TEST_F(Measuring, ACornerOfTheGateIsDraggedAndAllItsCurvesFollowInOneStep) {
    ImpulsePlot& plot = *impulse().plot();
    const double before = row_a().low_hz();
    const int steps = session().history().count();
    const QPointF corner = plot.corner(3);
    drag(plot, corner, {plot.x_of(60), corner.y()});
    EXPECT_NEAR(gate().to_s, 0.08, 2e-5) << "not before it is open to";
    drag(plot, plot.corner(2), {plot.x_of(20), plot.corner(2).y()});
    EXPECT_NEAR(gate().full_to_s, 0.02, 5e-4);
    EXPECT_GT(row_a().low_hz(), before) << "less can be told";
    EXPECT_EQ(session().history().count(), steps + 2) << "a drag is one step";
    for (const auto& curve : session().study().curves) {
        EXPECT_EQ(curve->low_hz(), row_a().low_hz());
    }
    session().history().undo();
    session().history().undo();
    EXPECT_EQ(row_a().low_hz(), before);
}

TEST_F(Measuring, TheGateIsTypedAndMovedByKeys) {
    type(impulse().time_edit(2), "30");
    EXPECT_NEAR(gate().full_to_s, 0.03, 1e-12);
    type(impulse().time_edit(3), "0.05 s");
    EXPECT_NEAR(gate().to_s, 0.05, 1e-12);
    type(impulse().cycles_edit(), "8");
    EXPECT_EQ(gate().cycles, 8);
    type(impulse().time_edit(3), "1");
    EXPECT_NEAR(gate().to_s, 0.05, 1e-12) << "before it is open to: refused";
    EXPECT_TRUE(impulse().said().startsWith("◇")) << impulse().said().toStdString();
    impulse().plot()->setFocus();
    QTest::keyClick(impulse().plot(), Qt::Key_Left);
    EXPECT_LT(gate().full_to_s, 0.03);
}

TEST_F(Measuring, WithoutAGateAllOfItCountsAndANewOneIsMade) {
    emit impulse().gate_button()->menu()->aboutToShow();
    const auto choose = [&](const QString& text) {
        for (QAction* action : impulse().gate_button()->menu()->actions()) {
            if (action->text() == text) {
                action->trigger();
                return;
            }
        }
        FAIL() << text.toStdString();
    };
    choose("all of it");
    EXPECT_EQ(row_a().origin->gate, "");
    EXPECT_EQ(session().study().curves[3]->origin->gate, "") << "all positions of the channel";
    EXPECT_EQ(session().study().curves[4]->origin->gate, "dome-gate") << "and no other's";
    EXPECT_GT(row_a().frequency_hz.size(), 5000u) << "every bin";
    emit impulse().gate_button()->menu()->aboutToShow();
    choose("New gate");
    ASSERT_EQ(session().study().gates.size(), 2u);
    EXPECT_EQ(row_a().origin->gate, session().study().gates[1].id);
}

TEST_F(Measuring, TheArrivalIsSetByHandAndFoundAgain) {
    const double found = row_a().delay_s;
    type(impulse().arrival_edit(), "20");
    EXPECT_NEAR(row_a().delay_s, 0.02, 1e-12);
    type(impulse().arrival_edit(), "found");
    EXPECT_NEAR(row_a().delay_s, found, 1e-12);
}

TEST_F(Measuring, AnotherAverageBecomesTheChannelsMeasuredCurve) {
    QTreeWidget& tree = *desk().positions()->tree();
    const auto row = [&](const QString& text) -> QTreeWidgetItem* {
        for (int i = 0; i < tree.topLevelItem(0)->childCount(); ++i) {
            if (tree.topLevelItem(0)->child(i)->text(0).startsWith(text)) {
                return tree.topLevelItem(0)->child(i);
            }
        }
        return nullptr;
    };
    ASSERT_NE(row("average of power"), nullptr);
    EXPECT_TRUE(row("average of power")->text(0).contains("used"));
    const double power = *session().point_at(190)->measured_db;
    tree.setFocus();
    tree.setCurrentItem(row("average of vectors"));
    QTest::keyClick(&tree, Qt::Key_Return);
    QTest::qWait(20);
    EXPECT_EQ(session().channel()->average, AverageOf::vectors);
    EXPECT_LT(*session().point_at(190)->measured_db, power) << "what differs cancels";
    EXPECT_TRUE(row("average of vectors")->text(0).contains("used"));
    EXPECT_TRUE(desk().lanes()->curves().is_shown("average:vectors"));
}

TEST_F(Measuring, SmoothingAndPhaseAreOnlyLooked) {
    const Study before = session().study();
    LaneStack& lanes = *desk().lanes();
    lanes.redraw_now();
    desk().look().smooth({SmoothingKind::octave, 1, false});
    desk().look().show_phase(PhaseShown::excess);
    EXPECT_TRUE(lanes.curves().title(Lane::magnitude).contains("1/1 octave"));
    EXPECT_TRUE(lanes.curves().title(Lane::phase).startsWith("Excess phase"));
    EXPECT_EQ(session().study(), before);
}

TEST_F(Measuring, ChannelsAreAlignedInOneStepAndStayAligned) {
    LevelsPane& levels = page<LevelsPane>(*desk().upper());
    ASSERT_EQ(levels.table()->item(0, LevelsPane::name)->text(), "Zenith");
    EXPECT_TRUE(levels.table()->item(0, LevelsPane::arrival)->text().endsWith(" ms"));
    EXPECT_EQ(levels.table()->item(3, LevelsPane::level)->text(), "not measured");
    const int steps = session().history().count();
    levels.align_button()->click();
    EXPECT_EQ(session().history().count(), steps + 1);
    const auto last = [&](int channel) {
        return session().study().channels[static_cast<std::size_t>(channel)]->stages.back()->name;
    };
    EXPECT_EQ(last(0), "Align delay");
    EXPECT_EQ(last(2), "Align delay");
    for (const int row : {0, 1, 2}) {
        const QString text = levels.table()->item(row, LevelsPane::to_align)->text();
        EXPECT_TRUE(text.startsWith("0.0 dB")) << text.toStdString();
    }
    levels.align_button()->click();
    EXPECT_EQ(session().history().count(), steps + 1) << "nothing is left to do";
    type(levels.from_edit(), "9k");
    EXPECT_TRUE(levels.said().contains("does not lie above")) << levels.said().toStdString();
}

TEST_F(Measuring, DecayEnergyAndWaterfallAreWorkedOutOfTheCurveInHand) {
    session().curve_in_hand().take("sunset-b");
    DecayPage& decay = page<DecayPage>(*desk().lower());
    QTRY_VERIFY_WITH_TIMEOUT(decay.times().size() > 5, 5000);
    // The simulated dome's tail dies away in 0.42 s, above 2.6 kHz in half of that.
    EXPECT_NEAR(decay.times()[4].t20_s.value_or(0), 0.42, 0.12);
    EnergyPage& energy = page<EnergyPage>(*desk().lower());
    QTRY_VERIFY_WITH_TIMEOUT(energy.early_and_late().definition > 0.5, 5000);
    WaterfallPage& waterfall = page<WaterfallPage>(*desk().lower());
    QTRY_VERIFY_WITH_TIMEOUT(!waterfall.waterfall().level_db.empty(), 5000);
}

TEST_F(Measuring, ADroppedFolderOfFilesIsNamedByRuleAndImportedInOneStep) {
    const auto write = [&](const char* name, std::size_t late) {
        std::vector<double> samples(4800);
        samples[late] = 0.5;
        test::write_sound(scratch.file(name), samples);
    };
    write("zenith_row_E.wav", 480);
    write("Annex 10.wav", 100);
    write("Annex 2.wav", 100);
    test::write_sound(scratch.file("silent.wav"), std::vector<double>(100));
    QMimeData data;
    data.setUrls(
        {QUrl::fromLocalFile(file("silent.wav")), QUrl::fromLocalFile(file("Annex 10.wav")),
         QUrl::fromLocalFile(file("Annex 2.wav")), QUrl::fromLocalFile(file("zenith_row_E.wav"))});
    QDragEnterEvent enter({5, 5}, Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(window.get(), &enter);
    QDropEvent drop({5, 5}, Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(window.get(), &drop);
    MeasurementsDialog* asked = dialog();
    ASSERT_NE(asked, nullptr);
    QTRY_VERIFY_WITH_TIMEOUT(!asked->is_busy(), 5000);
    QTest::qWait(20);
    const auto cell = [&](int row, int column) {
        return asked->table()->item(row, column)->text();
    };
    ASSERT_EQ(asked->table()->rowCount(), 4);
    EXPECT_EQ(cell(0, MeasurementsDialog::file), "Annex 2.wav");
    EXPECT_EQ(cell(0, MeasurementsDialog::channel), "Annex");
    EXPECT_EQ(cell(1, MeasurementsDialog::position), "10");
    EXPECT_TRUE(cell(2, MeasurementsDialog::found).contains("is silent"));
    EXPECT_EQ(cell(3, MeasurementsDialog::channel), "Zenith");
    EXPECT_EQ(cell(3, MeasurementsDialog::position), "row E");
    EXPECT_TRUE(asked->summary().contains("3 positions")) << asked->summary().toStdString();
    EXPECT_TRUE(asked->summary().contains("new: 1 channel (Annex)"));
    EXPECT_TRUE(asked->summary().contains("1 file refused"));
    asked->table()->item(1, MeasurementsDialog::position)->setText("door");
    QTest::qWait(10);
    const int steps = session().history().count();
    asked->import_button()->click();
    EXPECT_EQ(session().history().count(), steps + 1);
    const Study& study = session().study();
    EXPECT_EQ(study.channels[0]->measured.size(), 5u);
    EXPECT_EQ(study.channels.back()->name, "Annex");
    ASSERT_EQ(study.channels.back()->measured.size(), 2u);
    const Curve* door = curve_of(study, study.channels.back()->measured[1].curve);
    ASSERT_NE(door, nullptr);
    EXPECT_EQ(door->name, "Annex, door");
    EXPECT_EQ(door->origin->gate, "dome-gate");
    EXPECT_TRUE(door->source.starts_with("Annex 10.wav"));
}

TEST_F(Measuring, WhatIsReplacedGoesUnlessAGoalFollowsIt) {
    const std::string followed = row_a().id;
    const std::size_t before = session().study().curves.size();
    session().edit("a goal that follows row A", [&](Study& study) {
        Target& target = study.goals.at(0).edit().target;
        target = {};
        target.source.emplace();
        target.source->curve = followed;
    });
    Curve curve;
    curve.frequency_hz = {20, 20'000};
    curve.magnitude_db = {1, 1};
    ASSERT_TRUE(
        import_measurements(session(), {{"Zenith", "row B", curve}}, {"", "", true, false}));
    const Study& study = session().study();
    EXPECT_EQ(study.curves.size(), before - 3 + 1) << "rows B, C and D have gone";
    EXPECT_NE(curve_of(study, followed), nullptr);
    ASSERT_EQ(study.channels[0]->measured.size(), 1u);
    EXPECT_EQ(study.curves.back()->name, "Zenith, row B") << "its name is free again";
    session().history().undo();
    EXPECT_EQ(session().study().curves.size(), before);
}

TEST_F(Measuring, TheSweepIsWrittenWithItsInverseFilter) {
    SweepPage& sweep = page<SweepPage>(*desk().upper());
    type(sweep.edit("length_s"), "2");
    EXPECT_EQ(sweep.plan().length_s, 2);
    type(sweep.edit("to_hz"), "30k");
    EXPECT_TRUE(sweep.said().contains("half the sample rate")) << sweep.said().toStdString();
    EXPECT_EQ(sweep.plan().to_hz, 22'000);
    ASSERT_TRUE(sweep.write(scratch.file("s.wav").string()));
    const auto played = test::read_sound(scratch.file("s.wav"));
    EXPECT_EQ(played.size(), played_samples(sweep.plan()).size());
    EXPECT_TRUE(std::filesystem::exists(scratch.file("s-inverse.wav")));
}

void choose_fault(SimulatedRoomBox& room, const QString& name) {
    for (QAction* action : room.faults()->menu()->actions()) {
        if (action->text() == name) {
            return action->trigger();
        }
    }
    ADD_FAILURE() << name.toStdString();
}

// A fault strikes one of the recordings; the others are as they should be.
TEST_F(Measuring, EachFaultIsFoundInOneOfTwelveRecordings) {
    SweepPage& sweep = page<SweepPage>(*desk().upper());
    type(sweep.edit("length_s"), "3");
    sweep.where_choice()->setCurrentIndex(1);
    choose_fault(*sweep.room(), "clipping");
    choose_fault(*sweep.room(), "other rate");
    EXPECT_EQ(sweep.room()->faults()->text(), "clipping, other rate");
    sweep.record_button()->click();
    QTRY_VERIFY_WITH_TIMEOUT(window->findChild<MeasurementsDialog*>() != nullptr, 60000);
    MeasurementsDialog* asked = window->findChild<MeasurementsDialog*>();
    QTRY_VERIFY_WITH_TIMEOUT(!asked->is_busy(), 60000);
    QTest::qWait(20);
    ASSERT_EQ(asked->table()->rowCount(), 12);
    int clipped = 0, at_another_rate = 0;
    for (int row = 0; row < 12; ++row) {
        const QString found = asked->table()->item(row, MeasurementsDialog::found)->text();
        clipped += found.contains("clip") ? 1 : 0;
        at_another_rate += found.contains("44100 Hz") ? 1 : 0;
    }
    EXPECT_EQ(clipped, 1);
    EXPECT_EQ(at_another_rate, 1);
    // What is left out stays so when the files are read otherwise, and is proposed afterwards.
    constexpr int last = 11;
    asked->table()->item(last, MeasurementsDialog::file)->setCheckState(Qt::Unchecked);
    asked->rate_choice()->setCurrentIndex(1);
    QTRY_VERIFY_WITH_TIMEOUT(!asked->is_busy() && asked->table()->rowCount() == 12, 60000);
    EXPECT_EQ(asked->table()->item(last, MeasurementsDialog::file)->checkState(), Qt::Unchecked);
    asked->import_button()->click();
    EXPECT_EQ(sweep.room()->loudspeaker_choice()->currentText(), "Zenith");
    EXPECT_EQ(sweep.room()->row_choice()->currentText(), "row D");
    choose_fault(*sweep.room(), "No fault");
    EXPECT_EQ(sweep.room()->faults()->text(), "no fault");
}

TEST_F(Measuring, TheSimulatedRoomIsMeasuredAndItsFaultIsFound) {
    SweepPage& sweep = page<SweepPage>(*desk().upper());
    type(sweep.edit("length_s"), "3");
    sweep.where_choice()->setCurrentIndex(1);
    sweep.room()->loudspeaker_choice()->setCurrentIndex(2);
    sweep.room()->row_choice()->setCurrentIndex(1);
    choose_fault(*sweep.room(), "other rate");
    sweep.record_button()->click();
    QTRY_VERIFY_WITH_TIMEOUT(window->findChild<MeasurementsDialog*>() != nullptr, 20000);
    MeasurementsDialog* asked = window->findChild<MeasurementsDialog*>();
    QTRY_VERIFY_WITH_TIMEOUT(!asked->is_busy(), 20000);
    QTest::qWait(20);
    ASSERT_EQ(asked->table()->rowCount(), 1);
    EXPECT_EQ(asked->table()->item(0, MeasurementsDialog::channel)->text(), "Sunrise");
    EXPECT_TRUE(asked->table()->item(0, MeasurementsDialog::found)->text().contains("44100 Hz"))
        << asked->table()->item(0, MeasurementsDialog::found)->text().toStdString();
}

// A cable from the second side back into the first input is the reference; the microphone hears the
// loudspeaker through no room at all.
TEST_F(Measuring, ASweepIsPlayedAndRecordedThroughTheSoundDevice) {
    const test::PulseServer server;
    if (!server.is_there()) {
        GTEST_SKIP() << "pulseaudio does not start here";
    }
    SweepPage& sweep = page<SweepPage>(*desk().upper());
    SoundDeviceBox& device = *sweep.device();
    type(sweep.edit("length_s"), "1");
    type(sweep.edit("lead_out_s"), "0.5");
    QTRY_VERIFY_WITH_TIMEOUT(device.has_devices(), 20000);
    EXPECT_EQ(device.channel_edit()->currentText(), "Zenith");
    device.channel_edit()->setEditText("Sub left");
    device.position_edit()->setText("row A");
    device.reference_choice()->setCurrentIndex(device.reference_choice()->findData(2));
    QTest::mouseClick(sweep.record_button(), Qt::LeftButton);
    QTRY_COMPARE_WITH_TIMEOUT(sweep.record_button()->text(), QString("Stop"), 5000);
    // What is changed while it plays is of the next one.
    session().select_channel(1);
    type(sweep.edit("length_s"), "2");
    QTRY_VERIFY_WITH_TIMEOUT(window->findChild<MeasurementsDialog*>() != nullptr, 60000);
    QTRY_COMPARE(sweep.record_button()->text(), QString("Play and record"));
    EXPECT_TRUE(sweep.said().startsWith("Recorded · loudest −6.0 dB"))
        << sweep.said().toStdString();
    MeasurementsDialog* asked = window->findChild<MeasurementsDialog*>();
    QTRY_VERIFY_WITH_TIMEOUT(!asked->is_busy(), 20000);
    QTest::qWait(20);
    ASSERT_EQ(asked->table()->rowCount(), 1);
    const auto text = [&](int column) { return asked->table()->item(0, column)->text(); };
    EXPECT_EQ(text(MeasurementsDialog::channel), "Sub left");
    EXPECT_EQ(text(MeasurementsDialog::position), "row A");
    EXPECT_TRUE(text(MeasurementsDialog::found).contains("arrival 0.00 ms"))
        << text(MeasurementsDialog::found).toStdString();
    asked->import_button()->click();
    const Study& study = session().study();
    EXPECT_EQ(study.channels.back()->name, "Sub left");
    const Curve* made = curve_of(study, study.channels.back()->measured.at(0).curve);
    ASSERT_NE(made, nullptr);
    EXPECT_NEAR(CurveReader(*made).magnitude_db_at(1000), 0, 0.1);
    EXPECT_FALSE(made->origin->measured->harmonics.empty());
    EXPECT_EQ(device.position_edit()->text(), "row B") << "the next one";
}

TEST_F(Measuring, ARecordingIsStopped) {
    const test::PulseServer server;
    if (!server.is_there()) {
        GTEST_SKIP() << "pulseaudio does not start here";
    }
    SweepPage& sweep = page<SweepPage>(*desk().upper());
    QTRY_VERIFY_WITH_TIMEOUT(sweep.device()->has_devices(), 20000);
    sweep.record_button()->click();
    QTRY_VERIFY_WITH_TIMEOUT(sweep.said().startsWith("Playing: 0.5"), 20000);
    sweep.record_button()->click();
    EXPECT_TRUE(sweep.said().startsWith("Stopped")) << sweep.said().toStdString();
    QTRY_COMPARE(sweep.record_button()->text(), QString("Play and record"));
    EXPECT_FALSE(sweep.is_busy());
    EXPECT_EQ(window->findChild<MeasurementsDialog*>(), nullptr);
}

TEST_F(Measuring, HarmonicsOfARecordedSweepAreRead) {
    SweepPage& sweep = page<SweepPage>(*desk().upper());
    type(sweep.edit("length_s"), "3");
    sweep.where_choice()->setCurrentIndex(1);
    sweep.room()->loudspeaker_choice()->setCurrentIndex(1);
    sweep.room()->row_choice()->setCurrentIndex(1);
    HarmonicsPage& harmonics = page<HarmonicsPage>(*desk().lower());
    EXPECT_EQ(harmonics.reading(), "") << "the demo's are impulse responses";
    sweep.record_button()->click();
    QTRY_VERIFY_WITH_TIMEOUT(window->findChild<MeasurementsDialog*>() != nullptr, 20000);
    MeasurementsDialog* asked = window->findChild<MeasurementsDialog*>();
    QTRY_VERIFY_WITH_TIMEOUT(!asked->is_busy(), 20000);
    QTest::qWait(20);
    asked->import_button()->click();
    QTest::qWait(20);
    EXPECT_TRUE(harmonics.reading().startsWith("at 1")) << harmonics.reading().toStdString();
    EXPECT_TRUE(harmonics.reading().contains("2nd −")) << harmonics.reading().toStdString();
    const QString before = harmonics.reading();
    QTest::mouseMove(&harmonics, QPoint(80, 60));
    QTRY_VERIFY(harmonics.reading() != before);
    const QString by_pointer = harmonics.reading();
    QTest::keyClick(&harmonics, Qt::Key_Right);
    EXPECT_NE(harmonics.reading(), by_pointer);
    QTest::keyClick(&harmonics, Qt::Key_Left);
    EXPECT_EQ(harmonics.reading(), by_pointer);
}

TEST_F(Measuring, AMicrophoneIsImportedTakenOutAndLeftAgain) {
    scratch.write("mic.txt", "20 1.5\n20000 1.5\n");
    MicrophonePage& microphones = page<MicrophonePage>(*desk().upper());
    const auto level = [&] { return CurveReader(row_a()).magnitude_db_at(100); };
    microphones.none_button()->click();
    const double bare = level();
    microphones.import(file("mic.txt"));
    ASSERT_EQ(session().study().microphones.size(), 2u);
    microphones.use_button()->click();
    EXPECT_NEAR(level(), bare - 1.5, 1e-9);
    EXPECT_TRUE(impulse().said().contains("less mic")) << impulse().said().toStdString();
    microphones.remove_button()->click();
    EXPECT_NEAR(level(), bare, 1e-9);
    scratch.write("bad.txt", "nothing\n");
    microphones.import(file("bad.txt"));
    EXPECT_TRUE(microphones.said().startsWith("◇"));
    EXPECT_EQ(session().study().microphones.size(), 1u);
}

TEST_F(Measuring, WhatLiesBesideTheStudyIsWrittenAndReadBack) {
    session().edit("beside", [](Study& s) { s.impulses_beside = true; });
    ASSERT_TRUE(window->files().save_as(file("dome.syntonon")));
    EXPECT_TRUE(std::filesystem::exists(scratch.file("dome responses/zenith-a.wav")));
    const Study was = session().study();
    const auto warnings = window->files().open(file("dome.syntonon"));
    ASSERT_TRUE(warnings);
    EXPECT_TRUE(warnings->empty());
    EXPECT_EQ(session().study(), was);
    std::filesystem::remove(scratch.file("dome responses/zenith-a.wav"));
    const auto missing = window->files().open(file("dome.syntonon"));
    ASSERT_TRUE(missing);
    ASSERT_EQ(missing->size(), 1u);
    QTest::qWait(20);
    session().curve_in_hand().take("zenith-a");
    QTest::qWait(20);
    EXPECT_FALSE(impulse().gate_button()->isEnabled());
}

} // namespace
} // namespace syntonon
