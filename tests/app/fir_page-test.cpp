// The window of an FIR and the forms of its phase, looked at and changed in their pages.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/desks/shape_desk.h"
#include "app/model/stage_commands.h"
#include "app/panes/fir/fir_page.h"
#include "app/panes/fir/phase_pane.h"
#include "app/panes/fir/time_forms_pane.h"
#include "app/panes/fir/window_pane.h"
#include "app/panes/time_pane.h"
#include "app/widgets/quantity_edit.h"

#include <QCheckBox>
#include <QTableWidget>
#include <QWheelEvent>

namespace syntonon {
namespace {

class FirPages : public test::Window {
protected:
    void put(const FirSpec& fir, FirPage::Page shown) {
        add_stage(session(), fir);
        window->show_desk(Desk::shape);
        lower().show_page(ShapeDesk::fir);
        page().pages()->show_page(shown);
        QApplication::processEvents();
    }
    static FirSpec windowed(WindowShape shape, int length = 101) {
        WindowedFir method;
        method.window.shape = shape;
        method.window.parameter = parameter_of(shape).usual;
        if (shape == WindowShape::drawn) {
            method.window.points = {{0, 0}, {0.5, 1}, {1, 0}};
        }
        FirSpec spec;
        spec.method = method;
        spec.length = length;
        return spec;
    }
    Companion& lower() { return *window->shape().lower(); }
    FirPage& page() { return dynamic_cast<FirPage&>(*lower().page(ShapeDesk::fir)); }
    const FirSpec& fir() { return std::get<FirSpec>(*session().stage()->spec); }
    const std::vector<WindowPoint>& points() {
        return std::get<WindowedFir>(fir().method).window.points;
    }
};

TEST_F(FirPages, AreThereWhereTheFirHasThem) {
    put(windowed(WindowShape::hann), FirPage::window);
    EXPECT_FALSE(page().pages()->is_page_there(FirPage::bands)) << "stated by its edge";
    EXPECT_TRUE(page().pages()->is_page_there(FirPage::window));
    FirSpec squares;
    squares.method = LeastSquaresFir();
    session().edit_stage("squares", [&](Stage& stage) { stage.spec = squares; });
    EXPECT_TRUE(page().pages()->is_page_there(FirPage::bands));
    EXPECT_FALSE(page().pages()->is_page_there(FirPage::window));
    EXPECT_EQ(page().pages()->shown_page(), FirPage::bands) << "the page that went made room";
    session().select_stage(id(0));
    EXPECT_FALSE(lower().is_page_there(ShapeDesk::fir)) << "of FIRs only";
}

TEST_F(FirPages, TheWindowIsShownWithWhatItDoes) {
    put(windowed(WindowShape::hann, 1001), FirPage::window);
    WindowPane& pane = *page().window_pane();
    EXPECT_EQ(pane.values().size(), 1001u);
    EXPECT_NEAR(pane.values()[500], 1, 1e-12);
    EXPECT_TRUE(pane.facts().contains("side lobes −31.5")) << pane.facts().toStdString();
    EXPECT_TRUE(pane.facts().contains("noise 1.50")) << pane.facts().toStdString();
}

TEST_F(FirPages, ADrawnWindowIsDrawnByHand) {
    put(windowed(WindowShape::drawn), FirPage::window);
    WindowPane& pane = *page().window_pane();
    QTest::mouseClick(pane.symmetric(), Qt::LeftButton);
    const QPointF from = pane.position_of({0.5, 1}), to = pane.position_of({0.3, 0.6});
    drag(pane, from, to);
    EXPECT_NEAR(points()[1].place, 0.3, 0.01);
    EXPECT_NEAR(points()[1].value, 0.6, 0.02);
    EXPECT_NEAR(pane.values()[30], 0.6, 0.03) << "the filter follows";
    QTest::mouseDClick(&pane, Qt::LeftButton, {}, pane.position_of({0.7, 0.8}).toPoint());
    ASSERT_EQ(points().size(), 4u);
    EXPECT_NEAR(points()[2].place, 0.7, 0.01);
    QTest::keyClick(&pane, Qt::Key_Up);
    EXPECT_NEAR(points()[2].value, 0.81, 0.02);
    QTest::keyClick(&pane, Qt::Key_Delete);
    EXPECT_EQ(points().size(), 3u);
    QTest::mousePress(&pane, Qt::RightButton, {}, pane.position_of(points()[1]).toPoint());
    QTest::mousePress(&pane, Qt::RightButton, {}, pane.position_of(points()[1]).toPoint());
    EXPECT_EQ(points().size(), 2u) << "two have to stay";
    drag(pane, pane.position_of(points()[0]), pane.position_of({0.2, 0.5}), {}, false);
    QTest::keyClick(&pane, Qt::Key_Escape);
    EXPECT_EQ(points()[0].place, 0) << "taken back";
}

TEST_F(FirPages, PointsOfADrawnWindowHaveTheirMirrorImagesOrStandAlone) {
    put(windowed(WindowShape::drawn), FirPage::window);
    WindowPane& pane = *page().window_pane();
    ASSERT_TRUE(pane.symmetric()->isVisible());
    EXPECT_TRUE(pane.symmetric()->isChecked());
    QTest::mouseDClick(&pane, Qt::LeftButton, {}, pane.position_of({0.2, 0.6}).toPoint());
    ASSERT_EQ(points().size(), 5u);
    EXPECT_NEAR(points()[3].place, 1 - points()[1].place, 1e-12);
    drag(pane, pane.position_of(points()[3]), pane.position_of({0.7, 0.9}));
    EXPECT_NEAR(points()[3].place, 0.7, 0.01);
    EXPECT_NEAR(points()[1].place, 0.3, 0.01);
    EXPECT_EQ(points()[1].value, points()[3].value);
    drag(pane, pane.position_of(points()[2]), pane.position_of({0.6, 0.8}));
    EXPECT_EQ(points()[2].place, 0.5) << "its own mirror image";
    EXPECT_NEAR(points()[2].value, 0.8, 0.02);

    QTest::mouseClick(pane.symmetric(), Qt::LeftButton);
    drag(pane, pane.position_of(points()[1]), pane.position_of({0.25, 0.4}));
    EXPECT_NEAR(points()[1].value, 0.4, 0.02);
    EXPECT_NEAR(points()[3].value, 0.9, 0.02) << "alone";
    QTest::mouseClick(pane.symmetric(), Qt::LeftButton);
    EXPECT_EQ(points()[3].value, points()[1].value) << "the first half mirrored";
    EXPECT_EQ(undo_name(), "Make the window symmetric");
    QTest::mousePress(&pane, Qt::RightButton, {}, pane.position_of(points()[1]).toPoint());
    EXPECT_EQ(points().size(), 3u) << "both are gone";
    session().history().undo();
    session().history().undo();
    EXPECT_FALSE(pane.symmetric()->isChecked()) << "it is drawn so";
}

TEST_F(FirPages, TheSideLobesAreDragged) {
    put(windowed(WindowShape::kaiser), FirPage::window);
    WindowPane& pane = *page().window_pane();
    const auto beta = [&] { return std::get<WindowedFir>(fir().method).window.parameter; };
    const double before = beta();
    ASSERT_TRUE(pane.lobe_grip());
    EXPECT_FALSE(pane.filter_levels().empty());
    EXPECT_NEAR(pane.filter_levels().front().second, -6, 0.1) << "half the gain at its edge";
    drag(pane, *pane.lobe_grip(), *pane.lobe_grip() - QPointF(0, 6));
    EXPECT_LT(beta(), before - 0.5);
    EXPECT_EQ(undo_name(), "Move the window's side lobes");
    const double dragged = beta();
    QTest::keyClick(&pane, Qt::Key_Down);
    EXPECT_NEAR(beta(), dragged + 0.12, 0.03) << "Kaiser and Schafer: 0.124 for each dB";
    drag(pane, *pane.lobe_grip(), *pane.lobe_grip() - QPointF(0, 6), {}, false);
    QTest::keyClick(&pane, Qt::Key_Escape);
    EXPECT_NEAR(beta(), dragged + 0.12, 0.03) << "taken back";

    put(windowed(WindowShape::hann), FirPage::window);
    EXPECT_FALSE(pane.lobe_grip());
}

TEST_F(FirPages, TheFormsOfThePhaseStandSideBySideAndOneIsTaken) {
    put(windowed(WindowShape::kaiser), FirPage::phases);
    PhasePane& pane = *page().phase_pane();
    QTRY_VERIFY_WITH_TIMEOUT(pane.is_ready() && pane.table()->rowCount() == 4, 10000);
    const auto number = [&](int row, int column) {
        return pane.table()->item(row, column)->text().replace(QStringLiteral("−"), "-").toDouble();
    };
    EXPECT_TRUE(pane.table()->item(2, 0)->text().startsWith(QStringLiteral("●"))) << "linear";
    EXPECT_NEAR(number(2, 2), 50 / 48.0, 1e-3);
    EXPECT_LT(number(0, 2), number(2, 2)) << "minimum phase is earlier";
    EXPECT_LT(number(0, 3), number(2, 3)) << "and rings less before";
    EXPECT_NEAR(number(2, 3), number(3, 3), 20);
    QTest::mouseClick(pane.table()->viewport(), Qt::LeftButton, {},
                      pane.table()->visualItemRect(pane.table()->item(0, 0)).center());
    EXPECT_EQ(fir().phase, FirPhase::minimum);
    QTRY_VERIFY_WITH_TIMEOUT(
        pane.is_ready() && pane.table()->item(0, 0)->text().startsWith(QStringLiteral("●")), 10000);
}

TEST_F(FirPages, APhaseThatCannotBeTurnedSaysWhy) {
    FirSpec spec;
    LeastSquaresFir method;
    method.delay_samples = 20;
    spec.method = method;
    spec.length = 61;
    put(spec, FirPage::phases);
    PhasePane& pane = *page().phase_pane();
    EXPECT_EQ(pane.table()->rowCount(), 1);
    EXPECT_TRUE(pane.words().contains("cannot be turned")) << pane.words().toStdString();
}

// The comparison of what was there before comes to its end all the same.
TEST_F(FirPages, WhatIsComparedOfAnotherFilterIsNotTaken) {
    put(windowed(WindowShape::kaiser), FirPage::phases);
    PhasePane& pane = *page().phase_pane();
    session().edit_stage("fixed", [](Stage& stage) {
        auto& spec = std::get<FirSpec>(stage.spec.edit());
        LeastSquaresFir method;
        method.delay_samples = 20;
        spec.method = method;
    });
    QTest::qWait(500);
    EXPECT_EQ(pane.table()->rowCount(), 1);
    EXPECT_TRUE(pane.words().contains("cannot be turned")) << pane.words().toStdString();
}

// --- the time pane and long FIRs ---

class LongFirs : public FirPages {
protected:
    TimePane& time() { return *lower().findChild<TimePane*>(); }
    void put_taps(std::size_t count, std::size_t greatest) {
        use_empty_channel();
        std::vector<double> taps(count, 0.0);
        taps[greatest] = 1;
        taps.back() = 0.25;
        add_stage(session(), TapsSpec{std::make_shared<const std::vector<double>>(taps)});
        lower().show_page(ShapeDesk::impulse);
        time().grab();
        QTRY_VERIFY_WITH_TIMEOUT(time().is_ready(), 20000);
        time().grab();
    }
};

TEST_F(LongFirs, AreShownUpToAsFarBehindTheGreatestTapAsThatIsFromTheStart) {
    put_taps(5000, 2000);
    EXPECT_EQ(time().shown_samples().first, 0);
    EXPECT_NEAR(time().shown_samples().second, 4000, 1);
    EXPECT_TRUE(time().plot().note().contains("n = 2000")) << time().plot().note().toStdString();
}

TEST_F(LongFirs, AMillionTapsAreWorkedOutBesideTheWindow) {
    put_taps(1 << 20, 500000);
    EXPECT_GE(time().values().size(), std::size_t(1 << 20));
    EXPECT_TRUE(time().plot().note().contains("n = 500000"));
    time().show_decibels(-100);
    time().grab();
    hover(time(), {400, 60});
    EXPECT_TRUE(time().is_magnifying());
    time().grab();
}

TEST_F(LongFirs, TheWheelZoomsAboutThePointerAndADragMovesAlong) {
    put_taps(5000, 2000);
    const auto wheel = [&](int by) {
        const QPointF at(time().width() / 2.0, 50);
        QWheelEvent event(at, time().mapToGlobal(at), {}, {0, by}, Qt::NoButton, Qt::NoModifier,
                          Qt::NoScrollPhase, false);
        QApplication::sendEvent(&time(), &event);
    };
    for (int i = 0; i < 8; ++i) {
        wheel(120);
    }
    const auto zoomed = time().shown_samples();
    EXPECT_LT(zoomed.second - zoomed.first, 600);
    EXPECT_GT(zoomed.first, 1000);
    drag(time(), {300, 60}, {200, 60});
    EXPECT_GT(time().shown_samples().first, zoomed.first) << "to the left: later samples come in";
    QTest::keyClick(&time(), Qt::Key_Home);
    EXPECT_EQ(time().shown_samples().first, 0);
}

TEST_F(FirPages, TheFormsOfThePhaseStandAboveOneAnotherInTime) {
    put(windowed(WindowShape::rectangular, 201), FirPage::times);
    TimeFormsPane& pane = *page().times_pane();
    QTRY_VERIFY_WITH_TIMEOUT(pane.is_ready() && pane.table()->rowCount() == 3, 10000);
    const auto cell = [&](int row, int column) {
        return pane.table()->item(row, column)->text().replace(QStringLiteral("−"), "-");
    };
    EXPECT_EQ(cell(0, TimeFormsPane::phase), "linear");
    EXPECT_EQ(cell(2, TimeFormsPane::phase), "minimum");
    EXPECT_EQ(pane.table()->currentRow(), 0) << "as it is";
    const TimeForm& linear = pane.forms()[0].form;
    EXPECT_NEAR(linear.onset, 100 - 4.8, 1) << "one lobe before the middle";
    EXPECT_NEAR(cell(0, TimeFormsPane::greatest).toDouble(), -13.3, 0.5);
    EXPECT_LT(pane.forms()[2].form.onset, 10);

    choose_item(pane.signal(), 2);
    QTRY_VERIFY_WITH_TIMEOUT(pane.is_ready(), 10000);
    ASSERT_TRUE(pane.frequency()->isVisible());
    EXPECT_EQ(pane.forms()[0].form.answer.size(), 201u + 8 * 48 - 1);
    emit pane.frequency()->value_entered(4000);
    QTRY_VERIFY_WITH_TIMEOUT(pane.is_ready(), 10000);
    EXPECT_EQ(pane.forms()[0].form.answer.size(), 201u + 8 * 12 - 1);
    EXPECT_NEAR(pane.forms()[0].form.onset, 100, 1e-6);

    const auto [from, to] = pane.plot()->shown_samples();
    QWheelEvent wheel(QPointF(80, 20), pane.plot()->mapToGlobal(QPointF(80, 20)), {}, {0, 120},
                      Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
    QApplication::sendEvent(pane.plot(), &wheel);
    const auto now = pane.plot()->shown_samples();
    EXPECT_NEAR(now.second - now.first, (to - from) / 1.3, 1e-6);

    session().edit_stage("maximum", [](Stage& stage) {
        std::get<FirSpec>(stage.spec.edit()).phase = FirPhase::maximum;
    });
    QTRY_VERIFY_WITH_TIMEOUT(pane.is_ready() && pane.table()->rowCount() == 4, 10000);
}

} // namespace
} // namespace syntonon
