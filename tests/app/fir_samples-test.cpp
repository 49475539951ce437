// Samples of an FIR in the hand: on the lane, and in their table.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/desks/shape_desk.h"
#include "app/model/stage_commands.h"
#include "app/panes/fir/fir_page.h"
#include "app/panes/fir/samples_pane.h"
#include "app/panes/goal/number_table.h"

#include <QPushButton>
#include <algorithm>

namespace syntonon {
namespace {

class FirSamples : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        use_empty_channel();
        FirSpec spec;
        spec.method = SampledFir();
        spec.length = 33;
        spec.wish.bands = {{0, 6000, 1, {}, 1, {}}, {10000, 24000, 0, {}, 1, {}}};
        add_stage(session(), spec);
        window->shape().lower()->show_page(ShapeDesk::fir);
        page().pages()->show_page(FirPage::samples);
        QApplication::processEvents();
    }
    FirPage& page() {
        return dynamic_cast<FirPage&>(*window->shape().lower()->page(ShapeDesk::fir));
    }
    SamplesPane& pane() { return *page().samples_pane(); }
    const std::vector<FirSample>& samples() {
        return std::get<SampledFir>(std::get<FirSpec>(*session().stage()->spec).method).samples;
    }
    QPoint grip(std::size_t sample) {
        return lanes().sample_grips().handle_points().at(sample).toPoint();
    }
    void drag(const QPoint& from, const QPoint& to) {
        QTest::mousePress(&lanes(), Qt::LeftButton, {}, from);
        QTest::mouseMove(&lanes(), (from + to) / 2);
        QTest::mouseMove(&lanes(), to);
        QTest::mouseRelease(&lanes(), Qt::LeftButton, {}, to);
        QApplication::processEvents();
    }
    double level_db(double hz) {
        return session().stage_analysis()->filter->response_at(hz, 48000).magnitude_db;
    }
};

TEST_F(FirSamples, MoveInLevelAndInFrequency) {
    EXPECT_EQ(lanes().sample_grips().handle_points().size(), 17u);
    EXPECT_TRUE(samples().empty()) << "the bands state them";
    const double hz = 5 * 48000.0 / 33; // between the bands
    const QPoint from = grip(5);
    drag(from, from + QPoint(0, 40));
    ASSERT_EQ(samples().size(), 17u);
    EXPECT_EQ(undo_name(), "Move a sample");
    EXPECT_LT(*samples()[5].gain, 0.5);
    EXPECT_NEAR(level_db(hz), 20 * std::log10(*samples()[5].gain), 1e-6) << "the filter follows";
    EXPECT_EQ(samples()[4].gain, 1);

    const QPoint along = grip(5);
    drag(along, along + QPoint(9, 0));
    EXPECT_GT(samples()[5].frequency_hz, hz + 100);
    EXPECT_LT(samples()[5].frequency_hz, samples()[6].frequency_hz);
    EXPECT_NEAR(level_db(samples()[5].frequency_hz), 20 * std::log10(*samples()[5].gain), 1e-6);
    drag(grip(5), grip(5) + QPoint(400, 0));
    EXPECT_LT(samples()[5].frequency_hz, samples()[6].frequency_hz) << "not past its neighbour";

    QTest::mouseClick(pane().on_grid(), Qt::LeftButton);
    EXPECT_NEAR(samples()[5].frequency_hz, hz, 1e-6);
    for (int step = 0; step < 4; ++step) {
        session().history().undo();
    }
    EXPECT_TRUE(samples().empty());
    EXPECT_EQ(pane().table()->rowCount(), 17);
}

TEST_F(FirSamples, SilenceLiesAtTheLanesEdgeAndCanBeLeft) {
    const QPoint from = grip(9);
    drag(from, from - QPoint(0, 60));
    EXPECT_GT(*samples()[9].gain, 0);
    drag(grip(9), grip(9) + QPoint(0, 300));
    EXPECT_EQ(samples()[9].gain, 0);
    const QPoint held = grip(9);
    QTest::mousePress(&lanes(), Qt::LeftButton, {}, held);
    QTest::mouseMove(&lanes(), held - QPoint(0, 100));
    EXPECT_GT(*samples()[9].gain, 0);
    QTest::keyClick(&lanes(), Qt::Key_Escape);
    QTest::mouseRelease(&lanes(), Qt::LeftButton, {}, held);
    EXPECT_EQ(samples()[9].gain, 0) << "taken back";
}

TEST_F(FirSamples, OneBetweenBandsIsLeftToTheProgram) {
    double before = -400;
    for (double hz = 10200; hz < 24000; hz += 50) {
        before = std::max(before, level_db(hz));
    }
    for (const std::size_t between : {5u, 6u}) {
        QTest::mouseDClick(&lanes(), Qt::LeftButton, {}, grip(between));
        EXPECT_FALSE(samples()[between].gain);
    }
    double after = -400;
    for (double hz = 10200; hz < 24000; hz += 50) {
        after = std::max(after, level_db(hz));
    }
    EXPECT_LT(after, before - 15);
    EXPECT_LT(after, -60) << "two of the table's transition values give about 67 dB";
    EXPECT_TRUE(pane().table()->item(5, SamplesPane::gain)->text().startsWith("best: 0.5"));
    pane().table()->choose_rows({6});
    emit pane().table()->rows_chosen();
    EXPECT_TRUE(pane().best()->isChecked());
    QTest::mouseClick(pane().best(), Qt::LeftButton);
    EXPECT_NEAR(*samples()[6].gain, 0.1, 0.02) << "kept as it was found";
    QTest::keyClick(&lanes(), Qt::Key_Delete);
    EXPECT_EQ(samples().size(), 16u) << "the one held last";
}

TEST_F(FirSamples, AreTypedInTheTable) {
    QTableWidget& table = *pane().table();
    table.item(5, SamplesPane::gain_db)->setText("-8 dB");
    EXPECT_NEAR(*samples().at(5).gain, std::pow(10, -0.4), 1e-9);
    table.item(5, SamplesPane::frequency)->setText("7.5k");
    EXPECT_EQ(samples()[5].frequency_hz, 7500);
    table.item(6, SamplesPane::gain)->setText("best");
    EXPECT_FALSE(samples()[6].gain);
    table.item(6, SamplesPane::frequency)->setText("30k");
    EXPECT_TRUE(pane().words().contains("half the sample rate")) << pane().words().toStdString();
    EXPECT_LT(samples()[6].frequency_hz, 10000) << "what was there stays";
    QTest::mouseClick(pane().add(), Qt::LeftButton);
    EXPECT_EQ(samples().size(), 18u);
    table.selectRow(0);
    QTest::mouseClick(pane().remove(), Qt::LeftButton);
    EXPECT_EQ(samples().size(), 17u);
    EXPECT_GT(samples()[0].frequency_hz, 0);
}

} // namespace
} // namespace syntonon
