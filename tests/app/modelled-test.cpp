// Modelled stages in the window: set, held on the lane, looked into, played.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/desks/listen_fixture.h"

#include "app/desks/shape_desk.h"
#include "app/model/stage_commands.h"
#include "app/model/stage_grips.h"
#include "app/panes/listen/voices_page.h"
#include "app/panes/modelled/model_page.h"
#include "app/panes/trim/modelled_trim.h"
#include "app/widgets/field.h"
#include "app/widgets/key_row.h"
#include "app/widgets/quantity_edit.h"
#include "core/study/kinds.h"

#include <QCheckBox>
#include <QComboBox>
#include <algorithm>

namespace syntonon {
namespace {

class Modelled : public test::Window {
protected:
    void use_ladder() {
        session().select_channel(3);
        use_empty_channel();
        LadderSpec ladder;
        ladder.resonance = 0.6;
        add_stage(session(), ladder);
        QApplication::processEvents();
    }
    ModelledTrim& strip() { return dynamic_cast<ModelledTrim&>(*window->trim()->panel()); }
    const LadderSpec& ladder() { return std::get<LadderSpec>(*session().stage()->spec); }
    ModelPage& page() {
        return dynamic_cast<ModelPage&>(*window->shape().upper()->page(ShapeDesk::model));
    }
    template <class Picture>
    const Picture* picture() {
        for (int i = 0; i < 400 && page().is_busy(); ++i) {
            QTest::qWait(10);
        }
        const auto& shown = page().plot()->picture();
        return shown ? std::get_if<Picture>(&*shown) : nullptr;
    }
};

TEST_F(Modelled, FieldsAndChoicesSetTheStage) {
    use_ladder();
    type(strip().field("resonance"), "0.9");
    EXPECT_EQ(ladder().resonance, 0.9);
    choose_item(strip().choice("Ladder of"), 1);
    EXPECT_EQ(ladder().type, modelled::LadderType::diode);
    choose_item(strip().choice("Response"), 9);
    EXPECT_EQ(ladder().response, modelled::LadderResponse::all_pass);
    EXPECT_FALSE(strip().field("bass_compensation")->isVisible()) << "low-passes only";
    choose_item(strip().choice("Oversampling"), 3);
    EXPECT_EQ(ladder().oversampling, 8);
    type(strip().field("resonance"), "1.3");
    EXPECT_EQ(ladder().resonance, 1.3) << "saturating stages hold it";
    choose_item(strip().choice("Stages"), 1);
    EXPECT_FALSE(session().stage_analysis()->filter) << "linear ones do not";
    EXPECT_NE(strip().field("resonance")->problem(), "");
    choose_item(strip().choice("Stages"), 0);
    EXPECT_EQ(strip().field("resonance")->problem(), "");
    type(strip().field("resonance"), "5");
    EXPECT_NE(strip().field("resonance")->problem(), "");
    EXPECT_EQ(ladder().resonance, 1.3) << "not taken";
    session().history().undo();
    EXPECT_FALSE(ladder().saturating);
}

TEST_F(Modelled, TheGripHoldsFrequencyAndResonance) {
    use_ladder();
    const Axis axis = session().axis();
    StageSpec spec = session().stage()->spec;
    const double before_db = grips_of(spec, axis).front().level_db;
    move_grip(spec, grips_of(spec, axis).front().key, 2500, before_db + 6, axis);
    const auto& moved = std::get<LadderSpec>(*spec);
    EXPECT_EQ(moved.frequency_hz, 2500);
    EXPECT_GT(moved.resonance, 0.6);
    EXPECT_NEAR(grips_of(spec, axis).front().level_db, before_db + 6, 0.1);
    widen(spec, 2, axis);
    EXPECT_LT(std::get<LadderSpec>(*spec).resonance, moved.resonance + 1e-12);
    move_grip(spec, "set frequency", 1e9, 500, axis);
    EXPECT_LT(std::get<LadderSpec>(*spec).resonance, 1);
    EXPECT_TRUE(session().try_design(spec)) << "however far it is dragged";
}

TEST_F(Modelled, ItsPageShowsWhatTheCurvesDoNot) {
    use_ladder();
    EXPECT_EQ(window->shape().upper()->shown_page(), ShapeDesk::model) << "a new one shows it";
    const auto* levels = picture<LevelsPicture>();
    ASSERT_NE(levels, nullptr);
    EXPECT_EQ(levels->curves.size(), 5U);
    EXPECT_LT(levels->curves.back().level_db[40], levels->curves.front().level_db[40]);
    choose_item(page().view(), ModelPage::harmonics);
    page().amount()->selectAll();
    QTest::keyClicks(page().amount(), "6");
    QTest::keyClick(page().amount(), Qt::Key_Return);
    const auto* tone = picture<HarmonicsPicture>();
    ASSERT_NE(tone, nullptr);
    EXPECT_EQ(tone->peak_db, 6);
    EXPECT_GT(tone->found.level_db[2], -60);
    choose_item(page().view(), ModelPage::poles);
    ASSERT_NE(picture<PolesPicture>(), nullptr);
    EXPECT_TRUE(page().words().contains("Q"));
    choose_item(page().view(), ModelPage::moved);
    const auto* moved = picture<MovedPicture>();
    ASSERT_NE(moved, nullptr);
    EXPECT_EQ(moved->runs.modelled.samples.size(), 3000U);
    session().select_stage("");
    EXPECT_FALSE(window->shape().upper()->is_page_there(ShapeDesk::model));
}

TEST_F(Modelled, OneThatSwingsByItselfIsSaidAndPlayed) {
    use_ladder();
    type(strip().field("resonance"), "1.2");
    EXPECT_TRUE(session().analysis()->chain.is_stable());
    EXPECT_FALSE(session().analysis()->stages.empty());
    const auto* stage = session().stage_analysis();
    ASSERT_NE(stage, nullptr);
    EXPECT_NE(stage->note.find("swings by itself"), std::string::npos);
}

class Voices : public test::Listen {
protected:
    void SetUp() override {
        Listen::SetUp();
        session().select_channel(4); // Aurora
        settle();
    }
    const Modulation& modulation() { return session().channel()->bench.modulation; }
};

// As the demo has it: a chord through the ladder, and through state-variable filters.
TEST_F(Voices, AChordIsPlayedNoteByNote) {
    EXPECT_EQ(bench().signal().name, "Chord");
    ASSERT_FALSE(out().empty());
    EXPECT_EQ(bench().compared(Track::first_compared), "state_variables");
    const auto plain = bench().samples(Track::first_compared)->values();
    ASSERT_EQ(plain.size(), out().size());
    EXPECT_NE(plain, out());
    const auto before = out();
    VoicesPage& page = *desk().voices();
    type(page.field("envelope_oct"), "1");
    settle();
    EXPECT_EQ(modulation().envelope_oct, 1);
    EXPECT_NE(out(), before);
    type(page.field("attack_ms"), "0.5 s");
    EXPECT_EQ(modulation().attack_ms, 500);
    type(page.field("sustain"), "3");
    EXPECT_NE(page.field("sustain")->problem(), "");
    choose_item(page.wave(), 2);
    EXPECT_EQ(modulation().oscillator_wave, ModulationWave::square);
    session().history().undo();
    EXPECT_EQ(modulation().oscillator_wave, ModulationWave::sine);
    ASSERT_TRUE(page.plain()->isChecked());
    page.plain()->click();
    settle();
    EXPECT_TRUE(bench().compared(Track::first_compared).empty());
}

TEST_F(Voices, TheRowOfKeysPlaysWithPointerAndLetters) {
    VoicesPage& page = *desk().voices();
    KeyRow& row = *page.keys();
    LiveKeys& keys = *desk().listening().keys();
    const QPointF on_d(row.rect_of(50).center().x(), row.height() - 4.0);
    ASSERT_EQ(row.key_at(on_d), 50);
    QTest::mousePress(&row, Qt::LeftButton, {}, on_d.toPoint());
    EXPECT_GT(keys.at(50).velocity, 0.9) << "low on a key is hard";
    QTest::mouseRelease(&row, Qt::LeftButton, {}, on_d.toPoint());
    EXPECT_EQ(keys.at(50).velocity, 0);
    row.setFocus();
    QTest::keyPress(&row, Qt::Key_W);
    EXPECT_GT(keys.at(49).velocity, 0) << "C sharp";
    QTest::keyRelease(&row, Qt::Key_W);
    EXPECT_EQ(keys.at(49).velocity, 0);
    QTest::keyPress(&row, Qt::Key_A);
    window->show_desk(Desk::shape);
    EXPECT_EQ(keys.at(48).velocity, 0) << "no note is left sounding";
}

TEST_F(Voices, KeysOfAnotherSignalSendNotes) {
    session().edit_channel("none", [](Channel& c) { c.bench.signal.clear(); });
    settle();
    KeyRow& row = *desk().voices()->keys();
    QTest::mouseClick(&row, Qt::LeftButton, {}, row.rect_of(60).center().toPoint());
    settle();
    EXPECT_EQ(bench().signal().name, "Chord") << "the study has notes";
}

} // namespace
} // namespace syntonon
