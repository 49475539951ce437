// What an FIR is asked for, typed into a table and dragged on the lane.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/desks/shape_desk.h"
#include "app/model/stage_commands.h"
#include "app/panes/companion.h"
#include "app/panes/fir/bands_pane.h"
#include "app/panes/fir/fir_page.h"
#include "app/panes/goal/number_table.h"
#include "app/plot/lane_stack.h"

#include <cmath>

namespace syntonon {
namespace {

class FirBands : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        FirSpec spec;
        spec.method = EquirippleFir();
        spec.length = 61;
        spec.wish.bands = {{0, 6000, 1, {}, 1, {}}, {9000, 24000, 0, {}, 10, {}}};
        add_stage(session(), spec);
        window->show_desk(Desk::shape);
        lower().show_page(ShapeDesk::fir);
        dynamic_cast<FirPage&>(*lower().page(ShapeDesk::fir)).pages()->show_page(FirPage::bands);
        QApplication::processEvents();
    }
    Companion& lower() { return *window->shape().lower(); }
    BandsPane& pane() {
        return *dynamic_cast<FirPage&>(*lower().page(ShapeDesk::fir)).bands_pane();
    }
    const std::vector<FirBand>& bands() {
        return std::get<FirSpec>(*session().stage()->spec).wish.bands;
    }
    void type(int row, int column, const QString& text) {
        emit pane().table()->entered(row, column, text);
        QApplication::processEvents();
    }
};

TEST_F(FirBands, ThePageIsThereWhereBandsAreAskedFor) {
    EXPECT_TRUE(BandsPane::is_there(session()));
    session().edit_stage("by edges", [](Stage& stage) { stage.spec = FirSpec(); });
    EXPECT_FALSE(BandsPane::is_there(session()));
}

TEST_F(FirBands, CellsAreTypedInRatiosAndDecibels) {
    type(0, BandsPane::to_hz, "5k");
    EXPECT_EQ(bands()[0].to_hz, 5000);
    type(0, BandsPane::gain_db, "-6");
    EXPECT_NEAR(bands()[0].gain, 0.501187, 1e-6);
    type(0, BandsPane::gain_to, "0.25");
    EXPECT_EQ(bands()[0].gain_to, 0.25);
    type(0, BandsPane::gain_to, "");
    EXPECT_FALSE(bands()[0].gain_to);
    type(1, BandsPane::weight, "50");
    EXPECT_EQ(bands()[1].weight, 50);
    EXPECT_EQ(pane().table()->item(1, BandsPane::gain_db)->text(), QStringLiteral("−∞"));
    EXPECT_EQ(pane().problem(), "");
}

TEST_F(FirBands, WhatCannotBeIsSaidAndChangesNothing) {
    const auto before = bands();
    for (const auto& [row, column, text] : {std::tuple(0, int(BandsPane::to_hz), "9500"),
                                            {1, int(BandsPane::weight), "0"},
                                            {1, int(BandsPane::to_hz), "30k"},
                                            {0, int(BandsPane::gain), "loud"},
                                            {0, int(BandsPane::gain), "0"}}) {
        type(row, column, text);
        EXPECT_NE(pane().problem(), "") << text;
        EXPECT_EQ(bands(), before) << text;
    }
}

TEST_F(FirBands, BandsAreAddedAndTakenAway) {
    pane().add()->click();
    ASSERT_EQ(bands().size(), 3u);
    EXPECT_TRUE(session().stage_analysis()->filter) << "a gap is left";
    pane().table()->setCurrentCell(2, 0);
    pane().remove()->click();
    pane().table()->setCurrentCell(1, 0);
    pane().remove()->click();
    EXPECT_EQ(bands().size(), 1u);
    EXPECT_FALSE(pane().remove()->isEnabled()) << "one stays";
    session().history().undo();
    EXPECT_EQ(bands().size(), 2u);
}

TEST_F(FirBands, EndsAreDraggedOnTheLane) {
    LaneStack& lanes = *window->shape().lanes();
    QApplication::processEvents();
    const double y = lanes.y_of(Lane::magnitude, 0);
    const QPointF edge(lanes.x_of(6000), y);
    const int before = session().history().index();
    drag(lanes, edge, QPointF(lanes.x_of(7000), y + 20));
    EXPECT_NEAR(bands()[0].to_hz, 7000, 60);
    EXPECT_NEAR(20 * std::log10(bands()[0].gain), lanes.value_at(Lane::magnitude, y + 20), 0.1);
    EXPECT_EQ(session().history().index(), before + 1) << "a drag is one step";
    drag(lanes, QPointF(lanes.x_of(bands()[0].to_hz), y + 20), QPointF(lanes.x_of(15000), y + 20));
    EXPECT_EQ(bands()[0].to_hz, 9000) << "up to its neighbour";
}

} // namespace
} // namespace syntonon
