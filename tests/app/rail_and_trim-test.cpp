// Stages on the rail, their fields, undo.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/model/stage_commands.h"
#include "app/panes/trim_strip.h"
#include "app/widgets/still_text.h"

#include <QComboBox>
#include <QEnterEvent>
#include <QImage>
#include <QLabel>
#include <QMenu>
#include <QPushButton>

namespace syntonon {
namespace {

class RailTest : public test::Window {
protected:
    StageCard& card(std::size_t i) { return *window->rail()->cards().at(i); }
    QString name(std::size_t i) { return card(i).accessibleName(); }
};

TEST_F(RailTest, ShowsAndSelectsStages) {
    ASSERT_EQ(window->rail()->cards().size(), 6u);
    EXPECT_EQ(name(1), "Peak, 63 Hz −6.8 dB");
    QTest::mouseClick(&card(1), Qt::LeftButton);
    EXPECT_EQ(session().selection().stage, id(1));
    EXPECT_EQ(trim().frequency()->editor()->text(), "63.0");
}

TEST_F(RailTest, StagesThatAnFirStandsForSaySo) {
    FirSpec fir;
    fir.method = FromChainFir();
    session().select_stage(session().channel()->stages.back()->id);
    add_stage(session(), fir);
    QApplication::processEvents();
    const std::size_t last = session().channel()->stages.size() - 1;
    EXPECT_EQ(card(0).accessibleDescription(), "in the FIR below");
    EXPECT_EQ(card(last).accessibleDescription(), "on");
    session().edit_stage("off", [](Stage& stage) { stage.enabled = false; });
    QApplication::processEvents();
    EXPECT_EQ(card(0).accessibleDescription(), "on");
}

TEST_F(RailTest, AQuietStageShowsItsShape) {
    // 40 dB down, and from there to nothing at half the rate.
    session().edit_channel("stages", [](Channel& channel) {
        Stage quiet;
        quiet.id = "quiet";
        quiet.spec = TapsSpec{std::make_shared<const std::vector<double>>(2, 0.005)};
        channel.stages = {quiet};
    });
    const QImage image = card(0).grab().toImage();
    const auto line_top = [&](int x) {
        for (int y = 23; y < 41; ++y) {
            if (image.pixelColor(x, y).lightness() < 160) {
                return y;
            }
        }
        return 41;
    };
    EXPECT_LT(line_top(30), 38) << "lifted off the bottom";
    EXPECT_GT(line_top(card(0).width() - 10), line_top(30) + 1) << "and falling";
}

TEST_F(RailTest, AStageThatIsAddedBelowTheRailsEdgeIsSeen) {
    for (int i = 0; i < 12; ++i) {
        session().select_stage(session().channel()->stages.back()->id);
        add_stage(session(), ParametricSpec{});
    }
    QTest::qWait(20);
    const StageCard& last = *window->rail()->cards().back();
    const QRect seen = window->rail()->viewport()->rect();
    EXPECT_TRUE(seen.contains(last.mapTo(window->rail()->viewport(), last.rect().center())));
}

TEST_F(RailTest, AddsRemovesDuplicatesAndSwitches) {
    EXPECT_EQ(window->rail()->add_button()->menu()->actions().size(), 24)
        << "one entry for every shape and each further kind; classical ones, roots, recursions and "
           "networks, modelled ones in menus of their own";
    session().select_stage(id(1));
    window->rail()->add_button()->menu()->actions().at(6)->trigger();
    EXPECT_EQ(stages(), 7u);
    EXPECT_EQ(session().selection().stage, id(2)) << "behind the selected one";
    EXPECT_EQ(undo_name(), "Add Notch 1 kHz");
    shortcut(Qt::Key_Insert, Qt::ControlModifier);
    EXPECT_EQ(stages(), 8u);
    EXPECT_NE(session().channel()->stages[2]->id, session().channel()->stages[3]->id);
    card(3).setFocus();
    QTest::keyClick(&card(3), Qt::Key_Delete);
    EXPECT_EQ(stages(), 7u);
    QTest::mouseClick(card(0).on_switch(), Qt::LeftButton);
    EXPECT_FALSE(session().channel()->stages[0]->enabled);
    EXPECT_EQ(session().analysis()->chain.cost().sections, 6);
    EXPECT_EQ(undo_name(), "Switch off High-pass 24 Hz");
    card(0).setFocus();
    QTest::keyClick(&card(0), Qt::Key_Space);
    EXPECT_TRUE(session().channel()->stages[0]->enabled);
}

TEST_F(RailTest, ReordersByDraggingAndByKeys) {
    const QPoint from = card(0).rect().center();
    const QPoint to = card(0).mapFromGlobal(card(2).mapToGlobal(QPoint(20, 55)));
    drag(card(0), from, to);
    EXPECT_EQ(name(2), "High-pass, 24 Hz Q 0.80");
    EXPECT_EQ(session().selection().stage, id(2));
    shortcut(Qt::Key_Up, Qt::AltModifier);
    EXPECT_EQ(name(1), "High-pass, 24 Hz Q 0.80");
    session().history().undo();
    session().history().undo();
    EXPECT_EQ(name(0), "High-pass, 24 Hz Q 0.80");
}

TEST_F(RailTest, WalksWithArrowKeysAndCopiesToChannels) {
    session().select_stage(id(0));
    card(0).setFocus();
    QTest::keyClick(&card(0), Qt::Key_Down);
    EXPECT_EQ(session().selection().stage, id(1));
    copy_stage_to(session(), id(1), 1);
    EXPECT_EQ(session().study().channels[1]->stages.size(), 5u);
    EXPECT_EQ(session().channel()->name, "Zenith") << "the view stays";
}

TEST_F(RailTest, SaysWhichStageCannotBeDesigned) {
    session().edit("low rate", [](Study& s) { s.sample_rate_hz = 8000; });
    EXPECT_TRUE(card(5).toolTip().contains("frequency_hz"));
    for (const FindingButton* finding : window->verdict()->findings()) {
        EXPECT_EQ(finding->finding().outcome, Outcome::undecided);
        EXPECT_TRUE(finding->accessibleName().contains("undecided"));
    }
    session().select_stage(id(5));
    EXPECT_FALSE(trim().frequency()->problem().isEmpty()) << "the field it is about says why";
    type(trim().frequency(), "3k");
    EXPECT_TRUE(trim().frequency()->problem().isEmpty());
    EXPECT_TRUE(session().analysis()->problems.empty());
}

class Fields : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        session().select_stage(id(4));
    }
};

TEST_F(Fields, TakeUnitsAndArithmetic) {
    type(trim().frequency(), "1.2 kHz");
    EXPECT_DOUBLE_EQ(spec(4).frequency_hz, 1200);
    EXPECT_EQ(undo_name(), "Change the frequency of Peak 870 Hz");
    type(trim().frequency(), "x0.5");
    EXPECT_DOUBLE_EQ(spec(4).frequency_hz, 600);
    type(trim().frequency(), "0.25 fs");
    EXPECT_DOUBLE_EQ(spec(4).frequency_hz, 12000);
    type(trim().gain(), "0.5 ratio");
    EXPECT_NEAR(spec(4).gain_db, -6.0206, 1e-4);
    EXPECT_EQ(trim().gain()->editor()->text(), "−6.02");
}

// Nothing beside them is laid out anew as they change, and they can be copied all the same.
TEST_F(Fields, TheCoefficientsKeepTheirPlaceAndCanBeSelected) {
    StillText* shown = nullptr;
    for (QWidget* widget : window->trim()->findChildren<QWidget*>()) {
        shown =
            dynamic_cast<StillText*>(widget) != nullptr ? dynamic_cast<StillText*>(widget) : shown;
    }
    ASSERT_NE(shown, nullptr);
    window->session().select_stage(window->session().channel()->stages[4]->id);
    const QStringList before = shown->lines();
    const QRect place = shown->geometry();
    ASSERT_EQ(before.size(), 2);
    window->session().edit_stage("another gain", [](Stage& stage) {
        std::get<ParametricSpec>(stage.spec.edit()).gain_db = -5;
    });
    EXPECT_NE(shown->lines(), before);
    EXPECT_EQ(shown->geometry(), place);
    auto* label = shown->findChild<QLabel*>();
    EXPECT_FALSE(label->isVisible());
    QEnterEvent enter(QPointF(4, 4), QPointF(4, 4), QPointF(4, 4));
    QApplication::sendEvent(shown, &enter);
    EXPECT_TRUE(label->isVisible());
    EXPECT_EQ(label->text(), shown->lines().join('\n'));
    label->setSelection(0, 3);
    QEvent leave(QEvent::Leave);
    QApplication::sendEvent(shown, &leave);
    EXPECT_TRUE(label->isVisible()) << "what is selected stays";
}

TEST_F(Fields, SayWhatIsWrongAndKeepTheOldValue) {
    for (const char* typed : {"30k", "0", "-5", "abc", "1/0"}) {
        type(trim().frequency(), typed);
        EXPECT_FALSE(trim().frequency()->problem().isEmpty()) << typed;
        EXPECT_EQ(spec(4).frequency_hz, 870) << typed;
        QTest::keyClick(trim().frequency()->editor(), Qt::Key_Escape);
        trim().frequency()->show_problem({});
    }
    type(trim().q(), "0");
    EXPECT_TRUE(trim().q()->problem().contains("not above 0"));
    EXPECT_EQ(spec(4).width.value, 1.4);
    EXPECT_FALSE(trim().q()->editor()->text().isEmpty()) << "a field never blanks out";
}

TEST_F(Fields, AWidthIsShownAsTheUserSaysItAndTheOtherFollows) {
    type(trim().other_width(), "1/3 oct");
    EXPECT_EQ(spec(4).width.kind, WidthKind::bandwidth_oct);
    EXPECT_EQ(trim().other_width()->editor()->text(), "0.333");
    EXPECT_NEAR(trim().q()->value(), *width_as(spec(4), WidthKind::q, 48000), 1e-12);
    type(trim().q(), "2");
    EXPECT_EQ(spec(4).width, (Width{WidthKind::q, 2}));
}

TEST_F(Fields, StepWithArrowsAndScrubOnTheCaption) {
    QTest::keyClick(trim().gain()->editor(), Qt::Key_Up);
    EXPECT_NEAR(spec(4).gain_db, -4.5, 1e-9);
    QTest::keyClick(trim().gain()->editor(), Qt::Key_Up, Qt::ShiftModifier);
    EXPECT_NEAR(spec(4).gain_db, -4.49, 1e-9);
    const double before = spec(4).frequency_hz;
    drag(*trim().frequency(), {10, 6}, {106, 6}); // 24 steps of a 24th of an octave
    EXPECT_NEAR(spec(4).frequency_hz / before, 2, 0.01);
}

TEST_F(Fields, ShapeAndOrderChangeWhatTheFieldsOffer) {
    const auto choose = [](QComboBox* box, int index) {
        box->setCurrentIndex(index);
        emit box->activated(index);
    };
    choose(trim().shape(), 1); // low shelf
    EXPECT_EQ(spec(4).shape, ParametricShape::low_shelf);
    EXPECT_TRUE(trim().slope()->isVisible());
    EXPECT_FALSE(trim().other_width()->isVisible());
    type(trim().slope(), "0.8");
    EXPECT_EQ(spec(4).width.kind, WidthKind::slope);
    choose(trim().shape(), 3); // low-pass has no slope: it becomes the Q it stood for
    EXPECT_EQ(spec(4).width.kind, WidthKind::q);
    EXPECT_FALSE(trim().gain()->isVisible());
    choose(trim().order(), 0);
    EXPECT_EQ(spec(4).order, 1);
    EXPECT_FALSE(trim().q()->isVisible());
    choose(trim().shape(), 0); // no first-order peak
    EXPECT_EQ(spec(4).order, 2);
    EXPECT_TRUE(session().analysis()->problems.empty());
}

TEST_F(Fields, FollowUndo) {
    type(trim().frequency(), "1000");
    shortcut(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(spec(4).frequency_hz, 870);
    EXPECT_EQ(trim().frequency()->editor()->text(), "870.0");
    session().history().redo();
    EXPECT_EQ(trim().frequency()->editor()->text(), "1000.0");
}

} // namespace
} // namespace syntonon
