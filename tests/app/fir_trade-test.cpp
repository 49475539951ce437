// What another length or delay of an FIR would gain: its curve, and the delay in the hand.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/desks/shape_desk.h"
#include "app/model/stage_commands.h"
#include "app/panes/fir/fir_page.h"
#include "app/panes/fir/trade_pane.h"

#include <cmath>

namespace syntonon {
namespace {

class FirTrades : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        use_empty_channel();
        FirSpec spec;
        spec.method = LeastSquaresFir();
        spec.length = 61;
        add_stage(session(), spec);
        window->shape().lower()->show_page(ShapeDesk::fir);
    }
    void show_trade(int of) {
        page().pages()->show_page(FirPage::trade);
        QApplication::processEvents();
        choose_item(pane().chooser(), of);
        wait();
    }
    void wait() {
        ASSERT_TRUE(QTest::qWaitFor([this] { return !pane().curve().is_busy(); }, 60'000));
        QApplication::processEvents();
    }
    FirPage& page() {
        return dynamic_cast<FirPage&>(*window->shape().lower()->page(ShapeDesk::fir));
    }
    TradePane& pane() { return *page().trade_pane(); }
    const FirSpec& fir() { return std::get<FirSpec>(*session().stage()->spec); }
    std::optional<double> delay() { return std::get<LeastSquaresFir>(fir().method).delay_samples; }
    double highest_lobe_db() {
        double highest = -400;
        for (double hz = 6000; hz < 24000; hz += 20) {
            highest = std::max(
                highest, session().stage_analysis()->filter->response_at(hz, 48000).magnitude_db);
        }
        return highest;
    }
};

TEST_F(FirTrades, APointIsSeenOnTheLanesAndTakenByAClick) {
    show_trade(0);
    const auto& points = pane().curve().points();
    ASSERT_GT(points.size(), 20u);
    EXPECT_TRUE(pane().words().startsWith("now: 61 taps")) << pane().words().toStdString();
    const std::size_t chosen = points.size() - 4;
    const TradePoint point = *points[chosen];
    EXPECT_GT(point.length, 90);
    const QPoint at = pane().plot()->position_of(point).toPoint();
    hover(*pane().plot(), at);
    EXPECT_TRUE(session().glimpse().filter_of(session().channel()->id));
    EXPECT_TRUE(pane().words().startsWith(QString("%1 taps").arg(point.length)));
    QTest::mouseClick(pane().plot(), Qt::LeftButton, {}, at);
    EXPECT_EQ(fir().length, point.length);
    EXPECT_EQ(undo_name(), "Take another length");
    EXPECT_FALSE(session().glimpse().filter_of(session().channel()->id));
    QApplication::processEvents();
    EXPECT_FALSE(pane().curve().is_busy()) << "the same curve";
    EXPECT_EQ(pane().curve().present()->length, point.length);
    EXPECT_NEAR(*pane().curve().present()->measures.attenuation_db, *point.measures.attenuation_db,
                1e-9);

    // A filter that is not on it has a curve of its own.
    session().edit_stage("bands", [](Stage& stage) {
        std::get<FirSpec>(stage.spec.edit()).wish.bands[1].from_hz = 5500;
    });
    EXPECT_TRUE(pane().curve().is_busy());
    wait();
    EXPECT_EQ(pane().curve().present()->spec, fir());
    EXPECT_LT(*pane().curve().present()->measures.attenuation_db,
              *point.measures.attenuation_db - 3)
        << "a narrower gap of the same length";
}

TEST_F(FirTrades, ArrowsAndEnterDoTheSame) {
    show_trade(2);
    TradePlot& plot = *pane().plot();
    plot.setFocus();
    QTest::keyClick(&plot, Qt::Key_Right);
    ASSERT_TRUE(plot.pointed_at());
    const TradePoint point = *pane().curve().points()[*plot.pointed_at()];
    EXPECT_GT(point.length, 61);
    QTest::keyClick(&plot, Qt::Key_Return);
    EXPECT_EQ(fir(), point.spec);
    EXPECT_LT(fir().wish.bands[1].from_hz - fir().wish.bands[0].to_hz, 2000);
    EXPECT_EQ(undo_name(), "Take another transition width");
}

TEST_F(FirTrades, HiddenNothingIsFoundAndStoppedItGoesOn) {
    show_trade(0);
    page().pages()->show_page(FirPage::bands);
    session().edit_stage("longer",
                         [](Stage& stage) { std::get<FirSpec>(stage.spec.edit()).length = 201; });
    EXPECT_FALSE(pane().curve().is_busy());
    page().pages()->show_page(FirPage::trade);
    EXPECT_TRUE(pane().curve().is_busy());
    QTest::mouseClick(pane().stop(), Qt::LeftButton);
    EXPECT_FALSE(pane().curve().is_busy());
    EXPECT_TRUE(pane().stop()->isVisible());
    QTest::mouseClick(pane().stop(), Qt::LeftButton);
    wait();
    EXPECT_EQ(pane().curve().present()->length, 201);
}

TEST_F(FirTrades, TheDelayIsPulledDownOnItsLane) {
    const auto grip = [this] { return lanes().delay_grip().handle_points().at(0); };
    const double before = highest_lobe_db();
    drag(lanes(), grip(), grip() + QPointF(0, 40));
    ASSERT_TRUE(delay());
    EXPECT_GT(*delay(), 10);
    EXPECT_LT(*delay(), 20) << "80 pixels are all of it, however coarse the lane";
    EXPECT_EQ(undo_name(), "Move the delay of the FIR");
    EXPECT_NEAR(session().stage_analysis()->filter->response_at(2000, 48000).group_delay_samples,
                *delay(), 0.3);
    EXPECT_GT(highest_lobe_db(), before + 2) << "attenuation pays for it";
    const double was = *delay();
    drag(lanes(), grip(), grip() - QPointF(0, 10), Qt::ShiftModifier);
    EXPECT_NEAR(*delay(), was + 30.0 / 80, 0.02) << "finely";
    drag(lanes(), grip(), grip() - QPointF(0, (30 - *delay()) * 80 / 30));
    EXPECT_FALSE(delay()) << "linear again";

    session().edit_stage("odd", [](Stage& stage) {
        auto& spec = std::get<FirSpec>(stage.spec.edit());
        std::get<LeastSquaresFir>(spec.method).symmetry = FirSymmetry::odd;
    });
    EXPECT_TRUE(lanes().delay_grip().handle_points().empty());
}

} // namespace
} // namespace syntonon
