// Roots taken by the hand in the plane.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/desks/shape_desk.h"
#include "app/model/last_stable.h"
#include "app/model/root_commands.h"
#include "app/panes/roots/roots_pane.h"
#include "app/panes/trim/roots_trim.h"
#include "core/base/units.h"
#include "core/filter/form.h"
#include "core/study/root_drag.h"

#include <QMenu>
#include <QSignalSpy>
#include <cmath>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

class RootsInPlane : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        Study study;
        Channel channel;
        channel.id = "c";
        channel.name = "Bell";
        study.channels.emplace_back(channel);
        session().replace_study(study);
        window->show_shape_page(ShapeDesk::roots);
        QApplication::processEvents();
    }
    RootsPane& pane() { return *window->shape().roots_pane(); }
    void put(StageSpec spec) {
        session().edit_channel("put", [&](Channel& channel) {
            Stage stage;
            stage.id = "s" + std::to_string(channel.stages.size());
            stage.spec = std::move(spec);
            channel.stages.emplace_back(stage);
        });
        session().select_stage(session().channel()->stages.back()->id);
        pane().grab(); // lays the plane out
    }
    const RootsSpec& roots(int stage = 0) {
        return std::get<RootsSpec>(
            *session().channel()->stages.at(static_cast<std::size_t>(stage))->spec);
    }
    void drag_root(const Complex& from, const Complex& to, Qt::KeyboardModifiers keys = {}) {
        pane().grab();
        drag(pane(), pane().point_of(from), pane().point_of(to), keys);
    }
    double level_db(double hz) { return session().point_at(hz)->chain.magnitude_db; }
};

const Complex pole(0.7, 0.5);
RootsSpec resonance() {
    return {{{-1, 0}}, {pole, std::conj(pole)}, 0.1};
}

TEST_F(RootsInPlane, APairFollowsThePointerAsOneStep) {
    put(resonance());
    const int before = session().history().index();
    drag_root(pole, {0.4, 0.7});
    EXPECT_NEAR(roots().poles[0].real(), 0.4, 0.01);
    EXPECT_NEAR(roots().poles[0].imag(), 0.7, 0.01);
    EXPECT_EQ(roots().poles[1], std::conj(roots().poles[0]));
    EXPECT_EQ(session().history().index(), before + 1);
    EXPECT_TRUE(undo_name().startsWith("Move the pole pair")) << undo_name().toStdString();
    session().history().undo();
    EXPECT_EQ(roots(), resonance());
}

TEST_F(RootsInPlane, ByItsLowerHalfToo) {
    put(resonance());
    drag_root(std::conj(pole), {0.4, -0.7});
    EXPECT_NEAR(roots().poles[0].imag(), 0.7, 0.01);
}

TEST_F(RootsInPlane, APairSplitsOnTheAxisAndJoinsAgain) {
    put(resonance());
    drag_root(pole, {0.6, 0.0});
    ASSERT_EQ(roots().poles[0].imag(), 0);
    ASSERT_EQ(roots().poles[1].imag(), 0);
    drag_root(roots().poles[0], {0.2, 0.1});
    const auto& apart = roots().poles;
    EXPECT_EQ(apart[0].imag(), 0) << "alone it stays on the axis";
    EXPECT_GT(std::abs(apart[0] - apart[1]), 0.3);
    const Complex held = std::abs(apart[0].real() - 0.2) < 0.05 ? apart[0] : apart[1];
    const Complex other = held == apart[0] ? apart[1] : apart[0];
    drag_root(held, other);
    drag_root(other, other + Complex(0, 0.4));
    EXPECT_NEAR(std::abs(roots().poles[0].imag()), 0.4, 0.02);
}

TEST_F(RootsInPlane, CtrlHoldsRadiusOrAngle) {
    put(resonance());
    const double radius = std::abs(pole), angle = std::arg(pole);
    // Nearly along the circle.
    pane().grab();
    QTest::mousePress(&pane(), Qt::LeftButton, {}, pane().point_of(pole).toPoint());
    const QPointF at = pane().point_of(std::polar(radius * 1.02, angle + 0.4));
    QMouseEvent move(QEvent::MouseMove, at, pane().mapToGlobal(at), Qt::NoButton, Qt::LeftButton,
                     Qt::ControlModifier);
    QApplication::sendEvent(&pane(), &move);
    EXPECT_NEAR(std::abs(roots().poles[0]), radius, 1e-12);
    EXPECT_NEAR(std::arg(roots().poles[0]), angle + 0.4, 0.02);
    QTest::keyClick(&pane(), Qt::Key_Escape);
    EXPECT_EQ(roots(), resonance()) << "Escape takes the drag back";
    QTest::mouseRelease(&pane(), Qt::LeftButton, {}, at.toPoint());
    pane().hold_angle(true);
    drag_root(pole, std::polar(radius * 1.15, angle + 0.1));
    EXPECT_NEAR(std::arg(roots().poles[0]), angle, 1e-12);
}

TEST_F(RootsInPlane, TheLevelAtThePlumbLineIsKeptOnRequest) {
    put(resonance());
    session().plumb().set(2000.0);
    session().plumb().pin(true);
    const double before = level_db(2000);
    pane().setFocus();
    QTest::keyClick(&pane(), Qt::Key_L);
    drag_root(pole, {0.4, 0.7});
    EXPECT_NEAR(level_db(2000), before, 1e-9);
    EXPECT_NE(roots().gain, resonance().gain);
}

TEST_F(RootsInPlane, AZeroSnapsToTheCircle) {
    put(RootsSpec{{{0.3, 0.6}, {0.3, -0.6}}, {}, 1});
    drag_root({0.3, 0.6}, std::polar(0.985, 1.0));
    EXPECT_NEAR(std::abs(roots().zeros[0]), 1, 1e-12);
}

TEST_F(RootsInPlane, AGroupMovesTogether) {
    put(RootsSpec{{{0.2, 0.6}, {0.2, -0.6}}, {{0.5, 0.4}, {0.5, -0.4}}, 1});
    pane().grab();
    QTest::mouseClick(&pane(), Qt::LeftButton, {}, pane().point_of({0.5, 0.4}).toPoint());
    QTest::mouseClick(&pane(), Qt::LeftButton, Qt::ControlModifier,
                      pane().point_of({0.2, 0.6}).toPoint());
    EXPECT_EQ(session().roots_in_hand().roots().size(), 2u);
    const Complex by = std::polar(1.1, 0.2), from(0.5, 0.4);
    drag_root(from, from * by);
    EXPECT_NEAR(std::abs(roots().zeros[0] - Complex(0.2, 0.6) * by), 0, 0.02);
    EXPECT_NEAR(std::abs(roots().poles[0] - from * by), 0, 0.02);
}

TEST_F(RootsInPlane, AFrameTakesAllInIt) {
    put(RootsSpec{{{0.2, 0.6}, {0.2, -0.6}}, {{0.5, 0.4}, {0.5, -0.4}}, 1});
    pane().grab();
    drag(pane(), pane().point_of({0.1, 0.8}), pane().point_of({0.7, 0.2}), Qt::ShiftModifier);
    EXPECT_EQ(session().roots_in_hand().roots().size(), 2u);
}

TEST_F(RootsInPlane, APeaksPoleDragsItsFields) {
    put(parametric(ParametricShape::peak, 4000, 6, 1));
    const Complex at = session().analysis()->chain.roots()->poles[0];
    const Complex to = std::polar(0.9, 1.0);
    drag_root(at, to);
    EXPECT_NEAR(spec(0).frequency_hz, 48000 / (2 * pi), 150);
    EXPECT_EQ(spec(0).gain_db, 6);
    EXPECT_GT(spec(0).width.value, 1.5);
}

TEST_F(RootsInPlane, WhatCannotMoveSaysSo) {
    put(TapsSpec{std::make_shared<const std::vector<double>>(std::vector{1.0, 0.5})});
    drag_root({-0.5, 0}, {0.2, 0});
    EXPECT_TRUE(pane().problem().contains("open it into roots")) << pane().problem().toStdString();
}

TEST_F(RootsInPlane, MirroringKeepsTheLevelAndShowsBothForAMoment) {
    put(RootsSpec{{{0.5, 0.5}, {0.5, -0.5}}, {}, 1});
    const double before = level_db(3000);
    QTest::mouseClick(&pane(), Qt::LeftButton, {}, pane().point_of({0.5, 0.5}).toPoint());
    QTest::keyClick(&pane(), Qt::Key_M);
    EXPECT_NEAR(std::abs(roots().zeros[0]), std::sqrt(2.0), 1e-12);
    EXPECT_NEAR(level_db(3000), before, 1e-10);
    const auto curves = lanes().curves().curves();
    EXPECT_TRUE(std::ranges::any_of(curves, [](const auto& c) { return c.name == "before"; }));
    QTest::qWait(Glimpse::moment_ms + 200);
    const auto later = lanes().curves().curves();
    EXPECT_FALSE(std::ranges::any_of(later, [](const auto& c) { return c.name == "before"; }));
}

TEST_F(RootsInPlane, KeysAddTakeAwayAndNudge) {
    put(resonance());
    pane().setFocus();
    QTest::keyClick(&pane(), Qt::Key_PageDown);
    ASSERT_EQ(session().roots_in_hand().roots().size(), 1u);
    while (!session().roots_in_hand().roots().begin()->place.is_pole) {
        QTest::keyClick(&pane(), Qt::Key_PageDown);
    }
    QTest::keyClick(&pane(), Qt::Key_Right);
    EXPECT_NEAR(std::arg(roots().poles[0]), std::arg(pole) * std::exp2(1.0 / 48), 1e-12);
    QTest::keyClick(&pane(), Qt::Key_Up);
    EXPECT_GT(std::abs(roots().poles[0]), std::abs(pole));
    QTest::keyClick(&pane(), Qt::Key_D);
    EXPECT_EQ(roots().poles.size(), 4u);
    QTest::keyClick(&pane(), Qt::Key_C);
    EXPECT_EQ(roots().zeros.size(), 3u);
    QTest::keyClick(&pane(), Qt::Key_O);
    EXPECT_NEAR(std::abs(roots().poles[0]), 1, 1e-12);
    QTest::keyClick(&pane(), Qt::Key_Delete);
    EXPECT_EQ(roots().poles.size(), 2u);
    EXPECT_EQ(stages(), 1u) << "the stage itself stays";
}

TEST_F(RootsInPlane, TheMenuAddsIntoAStageOrMakesOne) {
    put(parametric(ParametricShape::peak, 1000, 6, 1));
    pane().add(true, {0.5, 0.5});
    ASSERT_EQ(stages(), 2u);
    EXPECT_EQ(roots(1).poles.size(), 2u);
    pane().add(false, {-1, 0});
    EXPECT_EQ(stages(), 2u);
    EXPECT_EQ(roots(1).zeros, std::vector<Complex>{-1});
    const auto actions = pane().menu(0)->actions();
    ASSERT_GT(actions.size(), 3);
    actions[0]->trigger();
    EXPECT_EQ(roots(1).poles.size(), 4u);
    QTest::keyClick(&pane(), Qt::Key_Delete);
    EXPECT_EQ(roots(1).poles.size(), 2u) << "what was added is in hand";
}

TEST_F(RootsInPlane, OutOfTheCircleAndBackAgain) {
    put(resonance());
    drag_root(pole, std::polar(1.05, 0.6));
    ASSERT_FALSE(session().analysis()->chain.is_stable());
    const auto& verdict = session().analysis()->verdict;
    EXPECT_NE(verdict.back().reason.find("dB/s"), std::string::npos);
    const RootsSpec unstable = roots();
    pane().setFocus();
    QTest::keyClick(&pane(), Qt::Key_I);
    EXPECT_TRUE(session().analysis()->chain.is_stable());
    EXPECT_NEAR(std::abs(roots().poles[0]), 1 / std::abs(unstable.poles[0]), 1e-12);
    session().history().undo();
    ASSERT_FALSE(session().analysis()->chain.is_stable());
    ASSERT_TRUE(window->last_stable().bring_back());
    EXPECT_TRUE(session().analysis()->chain.is_stable());
    EXPECT_FALSE(window->last_stable().bring_back()) << "nothing to bring back";
}

TEST_F(RootsInPlane, NumbersOfTheRootInHandAreTyped) {
    put(resonance());
    auto& trim = dynamic_cast<RootsTrim&>(*window->trim()->panel());
    EXPECT_EQ(trim.root()->text().left(9), "pole pair");
    const auto type = [&](RootNumber which, const char* text) {
        QLineEdit* edit = trim.field(which)->editor();
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, text);
        QTest::keyClick(edit, Qt::Key_Return);
    };
    type(RootNumber::frequency_hz, "1k");
    EXPECT_NEAR(std::arg(roots().poles[0]), rad_per_sample_from_hz(1000, 48000), 1e-12);
    EXPECT_NEAR(std::abs(roots().poles[0]), std::abs(pole), 1e-12);
    type(RootNumber::decay_s, "20 ms");
    EXPECT_NEAR(number_of(roots().poles[0], RootNumber::decay_s, 48000), 0.02, 1e-9);
    type(RootNumber::q, "50");
    EXPECT_NEAR(number_of(roots().poles[0], RootNumber::bandwidth_hz, 48000), 20, 1e-6);
    trim.go_on(1);
    EXPECT_EQ(trim.root()->text().left(9), "real zero");
    type(RootNumber::real, "0.5");
    EXPECT_EQ(roots().zeros[0], Complex(0.5, 0));
}

TEST_F(RootsInPlane, SharesTellTheLevelAndThePhase) {
    put(resonance());
    put(parametric(ParametricShape::peak, 1000, 6, 1));
    const double hz = 2345;
    double db = 0, deg = 0;
    for (const RootShare& share : root_shares(session(), hz)) {
        db += share.db;
        deg += share.deg;
    }
    db += db_from_ratio(std::abs(session().analysis()->chain.roots()->gain));
    const auto point = session().point_at(hz)->chain;
    EXPECT_NEAR(db, point.magnitude_db, 1e-9);
    EXPECT_NEAR(std::remainder(deg - deg_from_rad(point.phase_rad), 360.0), 0, 1e-9);
}

TEST_F(RootsInPlane, ReliefIsLitAndFollows) {
    put(resonance());
    const QImage plain = pane().grab().toImage();
    pane().show_relief({true, true, true, true});
    const QImage relief = pane().grab().toImage();
    EXPECT_NE(plain, relief);
    drag_root(pole, {0.2, 0.3});
    EXPECT_NE(pane().grab().toImage(), relief);
}

TEST_F(RootsInPlane, AStageOpensIntoRootsAndSaysWhatIsGivenUp) {
    put(parametric(ParametricShape::peak, 1000, 6, 1));
    const double before = level_db(1234);
    const auto words = open_stage(session(), id(0), OpenedAs::roots);
    ASSERT_TRUE(words);
    EXPECT_TRUE(words->contains("can no longer be turned")) << words->toStdString();
    EXPECT_EQ(roots().poles.size(), 2u);
    EXPECT_NEAR(level_db(1234), before, 1e-10);
    ASSERT_TRUE(open_stage(session(), id(0), OpenedAs::recursion));
    EXPECT_NEAR(level_db(1234), before, 1e-10);
    EXPECT_FALSE(open_stage(session(), id(0), OpenedAs::recursion)) << "it is that already";
}

TEST_F(RootsInPlane, OnTheLanesFrequencyAxisTheyAreDraggedToo) {
    put(resonance());
    LaneView view = lanes().view();
    view.show(Lane::roots, true);
    lanes().change_view(view);
    QApplication::processEvents();
    const QRect lane = lanes().rect_of(Lane::roots);
    ASSERT_GT(lane.height(), 40);
    const QPointF at = lanes().roots_lane().point_of(pole);
    ASSERT_TRUE(lane.contains(at.toPoint()));
    EXPECT_NEAR(lanes().hz_at(at.x()), number_of(pole, RootNumber::frequency_hz, 48000), 1);
    // A decade down: ten times as quick.
    const double decay = number_of(pole, RootNumber::decay_s, 48000);
    const QPointF to(lanes().x_of(500), lanes().y_of(Lane::roots, std::log10(decay * 10)));
    drag(lanes(), at, to);
    EXPECT_NEAR(number_of(roots().poles[0], RootNumber::frequency_hz, 48000), 500, 15);
    EXPECT_NEAR(number_of(roots().poles[0], RootNumber::decay_s, 48000) / (decay * 10), 1, 0.1);
    // Over the line: it grows.
    const QPointF now = lanes().roots_lane().point_of(roots().poles[0]);
    drag(lanes(), now, QPointF(now.x(), lanes().y_of(Lane::roots, 2.5)));
    EXPECT_FALSE(session().analysis()->chain.is_stable());
    EXPECT_NEAR(number_of(roots().poles[0], RootNumber::decay_s, 48000), -1, 0.3);
}

TEST_F(RootsInPlane, OnTheLaneWhatCannotMoveSaysSoToo) {
    put(TapsSpec{std::make_shared<const std::vector<double>>(std::vector{1.0, -1.2, 0.72})});
    LaneView view = lanes().view();
    view.show(Lane::roots, true);
    lanes().change_view(view);
    QApplication::processEvents();
    const QPointF at = lanes().roots_lane().point_of(session().analysis()->chain.roots()->zeros[0]);
    drag(lanes(), at, at + QPointF(30, 5), {}, false);
    EXPECT_TRUE(lanes().roots_lane().problem().contains("open it into roots"));
    QTest::mouseRelease(&lanes(), Qt::LeftButton, {}, at.toPoint());
    EXPECT_TRUE(lanes().roots_lane().problem().isEmpty());
}

TEST_F(RootsInPlane, OfSearchedRootsTheOneThatWasMovedStaysInHand) {
    // Three pairs by their coefficients: their order is that of the search.
    const RootsSpec pairs{
        {}, {{0.5, 0.5}, {0.5, -0.5}, {0.1, 0.8}, {0.1, -0.8}, {-0.6, 0.3}, {-0.6, -0.3}}, 1};
    put(with_own_roots(RecursionSpec{}, Filter(Cascade{{Biquad{}}}), pairs));
    pane().setFocus();
    drag_root({0.1, 0.8}, {-0.7, 0.5});
    for (int i = 0; i < 6; ++i) {
        QTest::keyClick(&pane(), Qt::Key_Left);
    }
    const auto& held = session().roots_in_hand().roots();
    ASSERT_EQ(held.size(), 1u);
    const Complex moved = *value_of(session(), *held.begin());
    const Complex wanted = std::polar(std::abs(Complex(-0.7, 0.5)),
                                      std::arg(Complex(-0.7, 0.5)) * std::exp2(-6.0 / 48));
    EXPECT_LT(std::abs(moved - wanted), 0.03);
    const auto& poles = session().analysis()->chain.roots()->poles;
    for (const Complex& still : {Complex(0.5, 0.5), Complex(-0.6, 0.3)}) {
        EXPECT_TRUE(std::ranges::any_of(
            poles, [&](const Complex& p) { return std::abs(p - still) < 1e-9; }));
    }
}

TEST_F(RootsInPlane, AnotherChannelsRootsAreNotInHand) {
    put(resonance());
    session().edit("another", [](Study& study) {
        Channel other = *study.channels[0];
        other.id = other.name = "other";
        study.channels.emplace_back(other);
    });
    session().roots_in_hand().hold({{id(0), {true, 0}}});
    session().select_channel(1);
    EXPECT_TRUE(session().roots_in_hand().roots().empty());
}

TEST(RootsLane, ItsPlacesAreOneToOne) {
    for (const Axis& axis : {Axis(48000), Axis(48000, Domain::analog)}) {
        for (const double value : {-2.0, -1.0, 0.5, circle_on_lane, 2.0, 4.0}) {
            const Complex root = root_on_lane(1000, value, axis);
            EXPECT_NEAR(roots_lane_value(root, axis), value, 1e-9);
            EXPECT_NEAR(number_of(root, RootNumber::frequency_hz, axis), 1000, 1e-6);
        }
    }
}

TEST_F(RootsInPlane, WhatIsOffIsNotReflected) {
    Stage held;
    held.id = "held";
    held.spec = RootsSpec{{}, {{1.1, 0}}, 1};
    RepeatSpec repeat;
    repeat.stages.emplace_back(held);
    put(repeat);
    session().edit_stage("off", [](Stage& stage) { stage.enabled = false; });
    EXPECT_FALSE(reflect_poles_inside(session()));
    session().edit_stage("on", [](Stage& stage) { stage.enabled = true; });
    ASSERT_TRUE(reflect_poles_inside(session()));
    const auto* mended = find_stage(session().channel()->stages, "held");
    EXPECT_NEAR(std::get<RootsSpec>(*mended->spec).poles[0].real(), 1 / 1.1, 1e-12);
}

TEST_F(RootsInPlane, OnTheCircleItNeverDecaysAndIsInfinitelySharp) {
    put(RootsSpec{{std::polar(1.0, 0.6), std::polar(1.0, -0.6)}, {}, 1});
    auto& trim = dynamic_cast<RootsTrim&>(*window->trim()->panel());
    const RootsSpec before = roots();
    for (const RootNumber which : {RootNumber::q, RootNumber::decay_s}) {
        Field* field = trim.field(which);
        EXPECT_EQ(field->editor()->text(), QStringLiteral("∞"));
        QTest::keyClick(field->editor(), Qt::Key_Up);
    }
    EXPECT_EQ(roots(), before);
}

TEST_F(RootsInPlane, RepetitionsShowTheRootsOfWhatTheyHold) {
    Stage held;
    held.id = "held";
    held.spec = resonance();
    RepeatSpec repeat;
    repeat.count = 3;
    repeat.stages.emplace_back(held);
    put(repeat);
    session().select_stage("held");
    const auto all = plane_roots(session(), RootsShown::whole_chain);
    ASSERT_EQ(all.size(), 3u);
    EXPECT_EQ(all[0].ref.stage, "held");
    EXPECT_EQ(all[0].count, 3);
    drag_root(pole, {0.4, 0.7});
    const auto* moved = find_stage(session().channel()->stages, "held");
    EXPECT_NEAR(std::get<RootsSpec>(*moved->spec).poles[0].real(), 0.4, 0.01);
}

TEST_F(RootsInPlane, SeenAsWordsHaveTheirGridOncePolesLieFarEnoughApart) {
    put(resonance());
    Delivery delivery;
    delivery.id = "d";
    delivery.name = "Chips";
    delivery.processor = "reed-28";
    session().edit("deliver", [&](Study& study) { study.deliveries.push_back(delivery); });
    pane().grab();
    EXPECT_TRUE(pane().word_roots().words().isEmpty()) << "as designed";
    session().view_words("d");
    QTest::qWait(50);
    pane().grab();
    EXPECT_TRUE(pane().word_roots().words().contains("Q5.23 in direct form I"))
        << pane().word_roots().words().toStdString();
    EXPECT_EQ(pane().word_roots().dots(), 0u) << "too fine by far";
    const QPointF at = pane().point_of(pole);
    for (int i = 0; i < 20; ++i) { // twice as large each time
        QWheelEvent wheel(at, pane().mapToGlobal(at), {}, {0, 240}, Qt::NoButton, Qt::NoModifier,
                          Qt::NoScrollPhase, false);
        QApplication::sendEvent(&pane(), &wheel);
        pane().grab();
    }
    EXPECT_GT(pane().word_roots().dots(), 20u);
    EXPECT_NEAR(pane().point_of(pole).x(), at.x(), 3) << "what is under the pointer stays";
    QTest::mouseDClick(&pane(), Qt::LeftButton, {}, QPoint(20, 60));
    pane().grab();
    EXPECT_EQ(pane().word_roots().dots(), 0u);
    for (QAction* action : pane().menu(2)->actions()) {
        if (action->text() == "Where words put the pole") {
            action->trigger();
        }
    }
    pane().grab();
    EXPECT_GT(pane().word_roots().dots(), 20u) << "found by the menu";
    EXPECT_NEAR(pane().point_of(pole).x(), pane().width() / 2.0, 3);
    session().view_words("");
    QTest::qWait(50);
    pane().grab();
    EXPECT_TRUE(pane().word_roots().words().isEmpty());
}

} // namespace
} // namespace syntonon
