// Weights of an FIR: drawn on their lane, found so that the corridor is filled.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/desks/shape_desk.h"
#include "app/model/stage_commands.h"
#include "app/panes/fir/fir_page.h"
#include "app/panes/fir/weights_pane.h"

#include <QTableWidget>

namespace syntonon {
namespace {

class FirWeights : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        use_empty_channel();
        session().edit("goal", [](Study& study) {
            Goal goal;
            goal.id = "low";
            goal.corridor = {{0, 4000, 0.3, 0.3, true, {}},
                             {6000, 9000, -40.0, {}, true, {}},
                             {9500, 24000, -52.0, {}, true, {}}};
            study.goals.emplace_back(goal);
            study.channels[0].edit().goal = "low";
        });
        put(EquirippleFir());
        window->shape().lower()->show_page(ShapeDesk::fir);
        page().pages()->show_page(FirPage::weights);
        QApplication::processEvents();
    }
    void put(const FirMethod& method, int length = 45) {
        FirSpec spec;
        spec.method = method;
        spec.length = length;
        add_stage(session(), spec);
    }
    FirPage& page() {
        return dynamic_cast<FirPage&>(*window->shape().lower()->page(ShapeDesk::fir));
    }
    WeightsPane& pane() { return *page().weights_pane(); }
    const WeightCurve& weights() {
        return std::get<FirSpec>(*session().stage()->spec).wish.weights;
    }
    void hug() {
        QTest::mouseClick(pane().hug_button(), Qt::LeftButton);
        ASSERT_TRUE(QTest::qWaitFor([this] { return !pane().is_busy(); }, 60'000));
        QApplication::processEvents();
    }
    double worst_margin() {
        double worst = 1e9;
        for (const Finding& finding : session().analysis()->verdict) {
            worst = finding.quantity == Quantity::level ? std::min(worst, *finding.margin) : worst;
        }
        return worst;
    }
};

TEST_F(FirWeights, AreFoundSoThatTheCorridorIsFilled) {
    const double before = worst_margin();
    const int steps = session().history().count();
    hug();
    EXPECT_GE(pane().table()->rowCount(), 2);
    EXPECT_GE(weights().size(), 3u);
    EXPECT_GT(worst_margin(), before + 5);
    EXPECT_EQ(session().history().count(), steps + 1);
    EXPECT_EQ(undo_name(), "Hug the corridor");
    EXPECT_TRUE(pane().words().contains("at worst")) << pane().words().toStdString();
    EXPECT_FALSE(session().glimpse().filter_of(session().channel()->id));
    session().history().undo();
    EXPECT_TRUE(weights().empty());
}

TEST_F(FirWeights, AnotherFilterEndsTheSearchAndGetsNothing) {
    QTest::mouseClick(pane().hug_button(), Qt::LeftButton);
    session().edit_stage("longer",
                         [](Stage& stage) { std::get<FirSpec>(stage.spec.edit()).length = 47; });
    EXPECT_FALSE(pane().is_busy());
    QTest::qWait(50);
    EXPECT_TRUE(weights().empty());
    EXPECT_EQ(undo_name(), "longer");
}

TEST_F(FirWeights, AnotherCorridorEndsTheSearch) {
    QTest::mouseClick(pane().hug_button(), Qt::LeftButton);
    session().edit("deeper",
                   [](Study& study) { study.goals.back().edit().corridor.back().above_db = -60; });
    EXPECT_FALSE(pane().is_busy());
    QTest::qWait(50);
    EXPECT_TRUE(weights().empty());
}

TEST_F(FirWeights, AreDrawnOnTheirLane) {
    QTest::mouseClick(pane().lane_button(), Qt::LeftButton);
    QApplication::processEvents();
    EXPECT_TRUE(lanes().view().shows(Lane::weight));
    const std::size_t begun = weights().size();
    EXPECT_GE(begun, 2u) << "points at the bands' edges, to be dragged";
    for (const WeightPoint& point : weights()) {
        EXPECT_EQ(point.weight, 1);
    }
    QTest::mouseClick(pane().clear_button(), Qt::LeftButton);
    const QPoint at(static_cast<int>(lanes().x_of(10000)),
                    lanes().rect_of(Lane::weight).center().y());
    QTest::mouseDClick(&lanes(), Qt::LeftButton, {}, at);
    QTest::mouseDClick(&lanes(), Qt::LeftButton, {},
                       {static_cast<int>(lanes().x_of(2000)), at.y()});
    ASSERT_EQ(weights().size(), 2u);
    EXPECT_NEAR(weights()[1].frequency_hz, 10000, 200);
    QTest::mouseClick(pane().lane_button(), Qt::LeftButton);
    EXPECT_EQ(weights().size(), 2u) << "points that are there stay";
    const Filter before = session().analysis()->chain;
    const QPointF from = lanes().weight_grips().point_at(1);
    drag(lanes(), from, from - QPointF(0, 14));
    EXPECT_GT(weights()[1].weight, 1.5);
    EXPECT_FALSE(session().analysis()->chain == before) << "the filter follows";
    EXPECT_TRUE(session().study().goals.back()->weights.empty()) << "those of the goal stay";
    QTest::keyClick(&lanes(), Qt::Key_Delete);
    EXPECT_EQ(weights().size(), 1u);
    QTest::mouseClick(pane().clear_button(), Qt::LeftButton);
    EXPECT_TRUE(weights().empty());
}

TEST_F(FirWeights, TheLaneIsTheGoalsWithoutSuchAnFir) {
    QTest::mouseClick(pane().lane_button(), Qt::LeftButton);
    put(MovingAverageFir(), 9);
    EXPECT_FALSE(WeightsPane::is_there(session()));
    const QPoint at(static_cast<int>(lanes().x_of(500)),
                    lanes().rect_of(Lane::weight).center().y());
    QTest::mouseDClick(&lanes(), Qt::LeftButton, {}, at);
    EXPECT_EQ(session().study().goals.back()->weights.points.size(), 1u);
}

TEST_F(FirWeights, WithoutACorridorThePaneSaysSo) {
    session().edit("no corridor", [](Study& study) { study.goals.back().edit().corridor.clear(); });
    hug();
    EXPECT_TRUE(pane().words().contains("corridor")) << pane().words().toStdString();
    session().edit_channel("no goal", [](Channel& channel) { channel.goal.clear(); });
    hug();
    EXPECT_TRUE(pane().words().contains("no goal")) << pane().words().toStdString();
}

} // namespace
} // namespace syntonon
