// A correction from the first look to many channels, as one does it.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/desks/shape_desk.h"
#include "app/model/fitter.h"
#include "app/model/stage_commands.h"
#include "app/panes/correction/correction_page.h"
#include "app/panes/correction/fit_channels_pane.h"
#include "app/panes/correction/fit_seats_pane.h"
#include "app/panes/correction/fit_settings_pane.h"
#include "app/panes/correction/found_sections_pane.h"
#include "app/panes/correction/limit_table.h"
#include "app/panes/correction/result_pane.h"
#include "app/panes/goal/number_table.h"
#include "app/panes/trim/correction_trim.h"
#include "app/widgets/quantity_edit.h"
#include "core/study/fit_stages.h"

#include <QCheckBox>
#include <QRegularExpression>
#include <algorithm>

namespace syntonon {
namespace {

class Correction : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        session().select_channel(1); // Sunrise, half done
        session().select_stage(session().channel()->stages.back()->id);
        CorrectionSpec spec;
        std::get<SectionsCorrection>(spec.method).count = 4;
        add_stage(session(), spec);
        QApplication::processEvents();
    }
    CorrectionPage& page() {
        return dynamic_cast<CorrectionPage&>(*window->shape().upper()->page(ShapeDesk::correction));
    }
    CorrectionTrim& strip() { return dynamic_cast<CorrectionTrim&>(*window->trim()->panel()); }
    Fitter& fitter() { return session().fitter(); }
    const CorrectionSpec& correction() {
        return std::get<CorrectionSpec>(*session().stage()->spec);
    }
    const std::vector<FoundSection>& found() {
        return std::get<SectionsCorrection>(correction().method).found;
    }
    // Until it is fitted, and how it then stands is known.
    bool fit() {
        strip().fit()->click();
        return QTest::qWaitFor([this] { return !fitter().is_busy(); }, 20'000) && settled();
    }
    bool settled() {
        QTest::qWait(200);
        return QTest::qWaitFor([this] {
            const auto state = fitter().state_of(session().stage()->id);
            return state != nullptr && state->is_fitted == is_fitted(session().stage()->spec);
        });
    }
};

TEST_F(Correction, IsFittedByOneButtonAndUndoneInOneStep) {
    EXPECT_EQ(window->shape().upper()->shown_page(), ShapeDesk::correction)
        << "a new one shows its page";
    ASSERT_TRUE(settled());
    EXPECT_TRUE(strip().words().startsWith("not fitted: ")) << strip().words().toStdString();
    EXPECT_EQ(strip().fit()->text(), "Fit");
    ASSERT_TRUE(fit());
    EXPECT_EQ(found().size(), 4U);
    EXPECT_EQ(undo_name(), "Fit Correction 40 Hz–16 kHz");
    EXPECT_EQ(strip().fit()->text(), "Fit again");
    EXPECT_TRUE(strip().words().contains("without it")) << strip().words().toStdString();
    EXPECT_EQ(session().stage_analysis()->filter->sections()->sections.size(), 4U);
    session().history().undo();
    EXPECT_TRUE(found().empty());
}

TEST_F(Correction, SaysWhenItIsOutOfDateAndByHowMuch) {
    ASSERT_TRUE(fit());
    EXPECT_FALSE(strip().words().contains("out of date"));
    const std::string self = session().stage()->id;
    session().edit_channel("louder", [](Channel& channel) {
        edit_stage(channel.stages, channel.stages.front()->id, [](Stage& stage) {
            stage.spec = parametric(ParametricShape::peak, 1000, 5, 1);
        });
    });
    session().select_stage(self);
    ASSERT_TRUE(settled());
    EXPECT_TRUE(strip().words().startsWith("out of date: 5.")) << strip().words().toStdString();
    const auto before = found();
    ASSERT_TRUE(fit());
    EXPECT_NE(found(), before);
    EXPECT_FALSE(strip().words().contains("out of date"));
}

TEST_F(Correction, IsFittedAgainByItselfWhereThatIsChosen) {
    ASSERT_TRUE(fit());
    page().pages()->show_page(CorrectionPage::settings);
    page().settings_pane()->refits()->click();
    EXPECT_TRUE(correction().refits);
    const auto before = found();
    const std::string self = session().stage()->id;
    session().edit_channel("louder", [](Channel& channel) {
        edit_stage(channel.stages, channel.stages.front()->id, [](Stage& stage) {
            stage.spec = parametric(ParametricShape::peak, 1000, 5, 1);
        });
    });
    session().select_stage(self);
    ASSERT_TRUE(QTest::qWaitFor([&] { return found() != before; }, 20'000));
    ASSERT_TRUE(settled());
    EXPECT_FALSE(fitter().state_of(self)->outdated);
    session().history().undo(); // the fit
    QTest::qWait(400);
    EXPECT_EQ(found(), before) << "what was taken back is not done again behind one's back";
    EXPECT_TRUE(session().history().canRedo());
}

TEST_F(Correction, FoundSectionsAreTakenInTheHandLockedAddedAndRemoved) {
    ASSERT_TRUE(fit());
    FoundSectionsPane& pane = *page().sections_pane();
    page().pages()->show_page(CorrectionPage::sections);
    QApplication::processEvents();
    NumberTable& table = *pane.table();
    ASSERT_EQ(table.rowCount(), 4);
    table.selectRow(2);
    EXPECT_EQ(session().part_in_hand().at(), 2U);
    const double hz = found()[2].section.frequency_hz;
    const QPointF grip = lanes().stage_grips().grip_point().value();
    drag(lanes(), grip, grip + QPointF(30, 0));
    EXPECT_GT(found()[2].section.frequency_hz, 1.1 * hz);
    EXPECT_TRUE(found()[2].locked) << "what is moved by hand is kept";
    const auto points = lanes().stage_grips().handle_points();
    const QPointF other = points.back(); // of another section
    drag(lanes(), other, other + QPointF(0, -20));
    EXPECT_NE(session().part_in_hand().at(), 2U);
    EXPECT_EQ(std::ranges::count_if(found(), &FoundSection::locked), 2);

    const FoundSection kept = found()[2];
    ASSERT_TRUE(fit());
    EXPECT_EQ(std::ranges::count(found(), kept), 1) << "locked ones stay";

    table.item(0, FoundSectionsPane::gain)->setText("-2 dB");
    QApplication::processEvents();
    EXPECT_EQ(found()[0].section.gain_db, -2);
    table.item(0, FoundSectionsPane::q)->setText("rubbish");
    QApplication::processEvents();
    EXPECT_FALSE(pane.words().isEmpty());
    EXPECT_EQ(found()[0].section.gain_db, -2) << "nothing is lost";
    pane.add()->click();
    EXPECT_EQ(found().size(), 5U);
    table.selectRow(4);
    pane.lock()->click();
    EXPECT_FALSE(found()[4].locked);
    pane.remove()->click();
    EXPECT_EQ(found().size(), 4U);
}

TEST_F(Correction, OpensIntoStages) {
    ASSERT_TRUE(fit());
    const std::size_t before = stages();
    const auto sections = session().analysis()->chain.sections();
    page().pages()->show_page(CorrectionPage::sections);
    page().sections_pane()->open()->click();
    EXPECT_EQ(stages(), before + 3) << "four stages for one";
    EXPECT_TRUE(std::holds_alternative<ParametricSpec>(*session().stage()->spec));
    EXPECT_EQ(session().analysis()->chain.sections()->sections, sections->sections);
    session().history().undo();
    EXPECT_EQ(stages(), before);
}

TEST_F(Correction, ATableHasARowForEachSeat) {
    ASSERT_TRUE(fit());
    page().pages()->show_page(CorrectionPage::seats);
    QApplication::processEvents();
    const QTableWidget& table = *page().seats_pane()->table();
    ASSERT_EQ(table.rowCount(), 5);
    EXPECT_EQ(table.item(0, 0)->text(), "All together");
    EXPECT_EQ(table.item(1, 0)->text(), "Sunrise, row A");
    EXPECT_LT(table.item(0, 2)->text().toDouble(), table.item(0, 1)->text().toDouble());
}

TEST_F(Correction, OneRecipeServesAllChannels) {
    page().pages()->show_page(CorrectionPage::channels);
    FitChannelsPane& pane = *page().channels_pane();
    ASSERT_EQ(pane.table()->rowCount(), 3) << "those with a measured set and a goal";
    pane.table()->item(2, 0)->setCheckState(Qt::Unchecked); // Sunset
    EXPECT_EQ(pane.words(), "2 channels with these settings");
    const std::size_t zenith = session().study().channels[0]->stages.size();
    const std::size_t sunset = session().study().channels[2]->stages.size();
    pane.fit()->click();
    EXPECT_TRUE(pane.is_busy());
    ASSERT_TRUE(QTest::qWaitFor([&] { return !pane.is_busy(); }, 20'000));
    EXPECT_EQ(session().study().channels[0]->stages.size(), zenith + 1);
    EXPECT_EQ(session().study().channels[2]->stages.size(), sunset);
    EXPECT_EQ(found().size(), 4U);
    EXPECT_EQ(undo_name(), "Fit 2 channels with the same settings");
    EXPECT_LT(pane.table()->item(1, 2)->text().toDouble(),
              pane.table()->item(1, 1)->text().toDouble());
    session().history().undo();
    EXPECT_EQ(session().study().channels[0]->stages.size(), zenith);
    EXPECT_TRUE(found().empty());
}

TEST_F(Correction, WhatIsHandedOverMeanwhileDoesNotSpoilTheFit) {
    page().pages()->show_page(CorrectionPage::channels);
    FitChannelsPane& pane = *page().channels_pane();
    pane.fit()->click();
    ASSERT_TRUE(pane.is_busy());
    session().edit("deliver less", [](Study& study) { study.deliveries.pop_back(); });
    ASSERT_TRUE(QTest::qWaitFor([&] { return !pane.is_busy(); }, 60'000));
    EXPECT_EQ(undo_name(), "Fit 3 channels with the same settings");
    pane.fit()->click();
    session().edit_channel("rename", [](Channel& channel) { channel.name = "Renamed"; });
    ASSERT_TRUE(QTest::qWaitFor([&] { return !pane.is_busy(); }, 60'000));
    EXPECT_TRUE(pane.words().contains("fit once more")) << pane.words().toStdString();
    EXPECT_EQ(undo_name(), "rename");
}

TEST_F(Correction, StoppingKeepsWhatIsDone) {
    page().pages()->show_page(CorrectionPage::channels);
    FitChannelsPane& pane = *page().channels_pane();
    const int steps = session().history().count();
    pane.fit()->click();
    EXPECT_EQ(pane.fit()->text(), "Stop");
    pane.fit()->click(); // at once
    EXPECT_FALSE(pane.is_busy());
    EXPECT_TRUE(pane.words().startsWith("Stopped")) << pane.words().toStdString();
    EXPECT_EQ(session().history().count(), steps);
    session().edit_stage("many", [](Stage& stage) {
        auto& spec = std::get<CorrectionSpec>(stage.spec.edit());
        std::get<SectionsCorrection>(spec.method).count = 40;
    });
    const Chain sunset = session().study().channels[2]->stages;
    pane.fit()->click();
    // The first of three is done, the second under way.
    const auto percent = [&] { return pane.words().remove(QRegularExpression("\\D")).toInt(); };
    ASSERT_TRUE(QTest::qWaitFor([&] { return percent() > 33 || !pane.is_busy(); }, 60'000));
    if (pane.is_busy() && percent() < 66) {
        pane.fit()->click();
        EXPECT_EQ(undo_name(), "Fit 1 channel with the same settings");
        EXPECT_EQ(session().study().channels[2]->stages, sunset);
    }
}

TEST_F(Correction, TapsCorrectTimingToo) {
    choose_item(strip().method(), 1);
    EXPECT_TRUE(std::holds_alternative<TapsCorrection>(correction().method));
    EXPECT_TRUE(strip().phase()->isVisible());
    choose_item(strip().phase(), 2); // mixed
    type(strip().field("length"), "8192");
    ASSERT_TRUE(fit());
    const auto& taps = std::get<TapsCorrection>(correction().method);
    ASSERT_NE(taps.found, nullptr);
    EXPECT_EQ(taps.found->size(), 8192U);
    EXPECT_LE(taps.worst_pre_ringing_db, taps.pre_ringing_db);
    EXPECT_TRUE(strip().words().contains("timing")) << strip().words().toStdString();
    EXPECT_LT(fitter().state_of(session().stage()->id)->figures->together.after.rms_db, 0.2);
}

TEST_F(Correction, LevelAndPhaseAreFittedTogether) {
    page().pages()->show_page(CorrectionPage::settings);
    FitSettingsPane& pane = *page().settings_pane();
    EXPECT_FALSE(pane.line("all_passes")->isVisible());
    choose_item(pane.match(), 1); // level and phase
    EXPECT_TRUE(pane.line("all_passes")->isVisible());
    ASSERT_TRUE(fit());
    EXPECT_TRUE(std::ranges::any_of(found(), [](const FoundSection& one) {
        return one.section.shape == ParametricShape::all_pass;
    }));
    const auto state = fitter().state_of(session().stage()->id);
    ASSERT_TRUE(state->figures->timing);
    EXPECT_LT(state->figures->timing->after.rms, state->figures->timing->before.rms);
    EXPECT_TRUE(strip().words().contains("phase")) << strip().words().toStdString();
}

TEST_F(Correction, TapsHaveADelayAndAWindowByHand) {
    choose_item(strip().method(), 1);
    page().pages()->show_page(CorrectionPage::settings);
    FitSettingsPane& pane = *page().settings_pane();
    QuantityEdit* delay = pane.line("delay_samples");
    EXPECT_TRUE(delay->isVisible());
    EXPECT_EQ(delay->text(), "least");
    delay->setFocus();
    delay->selectAll();
    QTest::keyClicks(delay, "480");
    QTest::keyClick(delay, Qt::Key_Return);
    choose_item(pane.window_shape(), 2); // Hann
    EXPECT_FALSE(pane.line("window_parameter")->isVisible());
    ASSERT_TRUE(fit());
    const auto& taps = std::get<TapsCorrection>(correction().method);
    EXPECT_EQ(taps.window.shape, WindowShape::hann);
    EXPECT_EQ(taps.sound_at_samples, 480);
    EXPECT_TRUE(strip().words().contains("tap 480")) << strip().words().toStdString();
    delay->clear();
    QTest::keyClick(delay, Qt::Key_Return);
    EXPECT_FALSE(std::get<TapsCorrection>(correction().method).delay_samples);
}

TEST_F(Correction, TheResultIsShownBeforeAndAfterInLevelAndTime) {
    ASSERT_TRUE(fit());
    page().pages()->show_page(CorrectionPage::result);
    ResultPane& pane = *page().result_pane();
    ASSERT_TRUE(QTest::qWaitFor([&] { return pane.plot()->result() != nullptr; }, 10'000));
    const BeforeAfter& result = *pane.plot()->result();
    EXPECT_EQ(result.positions.size(), 4U);
    EXPECT_FALSE(result.target_db.empty());
    EXPECT_EQ(result.together.impulse_after.size(), result.seconds.size());
    EXPECT_TRUE(pane.words().contains("requirements are met")) << pane.words().toStdString();
    const QImage level = pane.plot()->grab().toImage();
    for (const int form : {1, 2, 3}) {
        choose_item(pane.form(), form);
        EXPECT_NE(pane.plot()->grab().toImage(), level) << form;
    }
    EXPECT_TRUE(pane.words().startsWith("At most ")) << pane.words().toStdString();
}

TEST_F(Correction, ChannelsAreAlignedAfterwardsWhereThatIsTicked) {
    page().pages()->show_page(CorrectionPage::channels);
    FitChannelsPane& pane = *page().channels_pane();
    EXPECT_TRUE(pane.table()->item(0, 5)->text().contains(" of ")) << "the channel's verdict";
    pane.align()->click();
    pane.fit()->click();
    ASSERT_TRUE(QTest::qWaitFor([&] { return !pane.is_busy(); }, 20'000));
    std::size_t aligned = 0;
    for (const auto& channel : session().study().channels) {
        aligned += static_cast<std::size_t>(std::ranges::count_if(
            channel->stages, [](const auto& stage) { return stage->name.starts_with("Align "); }));
    }
    EXPECT_GE(aligned, 2U);
    EXPECT_EQ(undo_name(), "Fit 3 channels with the same settings") << "one step";
}

// Sunrise as it is in the demo: three bells more, and little turned.
TEST_F(Correction, AChainIsMendedInOneStepThatSaysWhatItDid) {
    session().history().undo(); // the correction
    ASSERT_FALSE(is_met(session().analysis()->verdict));
    const std::size_t before = stages();
    shortcut(Qt::Key_G, Qt::ControlModifier | Qt::ShiftModifier);
    ASSERT_TRUE(QTest::qWaitFor([this] { return undo_name() == "Mend the chain"; }, 30'000));
    EXPECT_EQ(stages(), before + 3);
    QApplication::processEvents();
    EXPECT_TRUE(is_met(session().analysis()->verdict));
    EXPECT_TRUE(window->message()->text().startsWith("Mended: added Peak "))
        << window->message()->text().toStdString();
    shortcut(Qt::Key_G, Qt::ControlModifier | Qt::ShiftModifier);
    ASSERT_TRUE(QTest::qWaitFor(
        [this] { return window->message()->text().contains("met already"); }, 30'000));
    session().history().undo();
    EXPECT_EQ(stages(), before);
}

TEST_F(Correction, SettingsTakeUnitsAndRefuseWhatMakesNoSense) {
    page().pages()->show_page(CorrectionPage::settings);
    FitSettingsPane& pane = *page().settings_pane();
    const auto enter = [&](const char* key, const QString& text) {
        QuantityEdit* line = pane.line(key);
        line->setFocus();
        line->selectAll();
        QTest::keyClicks(line, text);
        QTest::keyClick(line, Qt::Key_Return);
    };
    enter("spread_db", "2.5 dB");
    EXPECT_EQ(correction().spread_db, 2.5);
    enter("tolerance_db", "0.8");
    EXPECT_EQ(std::get<SectionsCorrection>(correction().method).tolerance_db, 0.8);
    enter("smoothing_oct", "7");
    EXPECT_NEAR(correction().smoothing_oct, 1.0 / 6, 1e-12);
    EXPECT_TRUE(pane.words().contains("out of range")) << pane.words().toStdString();
    choose_item(pane.over(), 1);
    EXPECT_EQ(correction().over, CorrectionOver::worst_position);
    pane.q_limits()->add()->click();
    EXPECT_EQ(std::get<SectionsCorrection>(correction().method).q_limits.size(), 2U);
    pane.q_limits()->table()->item(1, 1)->setText("3");
    QApplication::processEvents();
    EXPECT_EQ(std::get<SectionsCorrection>(correction().method).q_limits[1].q, 3);
    pane.boost_limits()->add()->click();
    pane.boost_limits()->table()->item(0, 1)->setText("2");
    QApplication::processEvents();
    ASSERT_EQ(correction().boost_limits.size(), 2U);
    EXPECT_EQ(correction().boost_limits[0].boost_db, 2);
    EXPECT_EQ(correction().boost_limits[1].boost_db, 6) << "as it was in the strip";
    pane.boost_limits()->table()->item(0, 0)->setText("1 kHz"); // above the second
    QApplication::processEvents();
    EXPECT_TRUE(pane.words().contains("does not follow")) << pane.words().toStdString();
    EXPECT_EQ(correction().boost_limits[0].frequency_hz, 40);
    pane.boost_limits()->table()->selectRow(1);
    pane.boost_limits()->remove()->click();
    EXPECT_EQ(correction().boost_limits.size(), 1U);
    type(strip().field("from_hz"), "20k");
    ASSERT_TRUE(settled());
    EXPECT_TRUE(strip().words().contains("is not above from_hz")) << strip().words().toStdString();
    strip().fit()->click();
    ASSERT_TRUE(QTest::qWaitFor([this] { return !fitter().is_busy(); }, 20'000));
    EXPECT_TRUE(found().empty());
}

} // namespace
} // namespace syntonon
