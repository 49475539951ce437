// The whole task with mouse and keyboard: see a measured response, shape the chain until the
// verdict is met, take the coefficients away. Runs offscreen and on an X server.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/desks/deliver_desk.h"
#include "app/dialogs/import_dialog.h"
#include "app/panes/deliver/delivery_preview.h"
#include "app/panes/verdict_pane.h"
#include "app/plot/lane_picture.h"
#include "core/exchange/coefficients.h"

#include <QCheckBox>
#include <QComboBox>
#include <QMenu>
#include <QPushButton>
#include <QTableWidget>
#include <QTreeWidget>

namespace syntonon {
namespace {

class WindowTask : public test::Window {};

TEST_F(WindowTask, FromMeasurementToFiles) {
    // Sunrise is half done: find what is wrong.
    QTest::mouseClick(window->channel_tabs(), Qt::LeftButton, {},
                      window->channel_tabs()->tab_rect(1).center());
    EXPECT_EQ(session().channel()->name, "Sunrise");
    const auto& findings = window->verdict()->findings();
    ASSERT_EQ(findings.size(), 3u);
    EXPECT_EQ(findings[1]->finding().outcome, Outcome::not_met);
    QTest::mouseClick(findings[1], Qt::LeftButton);
    ASSERT_TRUE(session().plumb().hz().has_value());
    EXPECT_NEAR(*session().plumb().hz(), 3620, 20) << "the click goes to the worst frequency";

    // Add a peak by keyboard choice, set it by number, then pull it into place.
    session().select_stage(id(static_cast<int>(stages()) - 1));
    window->rail()->add_button()->menu()->actions().first()->trigger();
    ASSERT_EQ(stages(), 5u);
    type(trim().frequency(), "3.6k");
    type(trim().gain(), "-2");
    type(trim().q(), "2.2");
    EXPECT_EQ(spec(4).frequency_hz, 3600);
    const QPointF grip = *lanes().stage_grips().grip_point();
    drag(lanes(), grip, {grip.x(), lanes().y_of(Lane::magnitude, -5.2)});
    EXPECT_NEAR(spec(4).gain_db, -5.2, 0.2);
    // A high shelf and a dip at 141 Hz remain.
    window->rail()->add_button()->menu()->actions().at(2)->trigger();
    type(trim().frequency(), "9 kHz");
    type(trim().gain(), "4.2 dB");
    window->rail()->add_button()->menu()->actions().at(0)->trigger();
    type(trim().frequency(), "141");
    type(trim().gain(), "3.6");
    type(trim().q(), "2");
    type(trim().gain(), "x1");
    QTest::qWait(10);
    EXPECT_TRUE(is_met(session().analysis()->verdict))
        << findings[0]->line().toStdString() << " / " << findings[1]->line().toStdString();
    EXPECT_TRUE(session().is_modified());
    EXPECT_TRUE(window->windowTitle().contains("•"));

    // Take the coefficients away.
    window->show_desk(Desk::deliver);
    DeliveryPreview& preview = *window->deliver().preview();
    window->deliver().set_folder(QString::fromStdString(scratch.file("out").string()));
    EXPECT_TRUE(preview.text().startsWith("# Syntonon coefficients"));
    QTest::mouseClick(preview.write_button(), Qt::LeftButton);
    window->deliver().finish_writing();
    EXPECT_TRUE(preview.status().contains("read back")) << preview.status().toStdString();
    const auto read =
        read_coefficients(test::bytes_of(scratch.file("out/brightwater-dome_sunrise_table.csv")));
    ASSERT_TRUE(read);
    EXPECT_EQ(read->set.cascade.sections.size(), 7u);
}

TEST_F(WindowTask, PaintsWithinTheWindow) {
    // Something of every curve's colour is really on the screen.
    session().select_stage(id(4));
    QTest::qWait(30);
    const QImage picture = lanes().grab().toImage();
    const auto pixels_like = [&](const QColor& colour) {
        int count = 0;
        for (int y = 0; y < picture.height(); ++y) {
            for (int x = 0; x < picture.width(); ++x) {
                const QColor at = picture.pixelColor(x, y);
                count += std::abs(at.red() - colour.red()) + std::abs(at.green() - colour.green())
                                     + std::abs(at.blue() - colour.blue())
                                 < 24
                             ? 1
                             : 0;
            }
        }
        return count;
    };
    EXPECT_GT(pixels_like(QColor("#1D3557")), 300) << "predicted";
    EXPECT_GT(pixels_like(QColor("#B4561F")), 100) << "selected stage";
    EXPECT_GT(pixels_like(QColor("#8A8D92")), 100) << "measured";
    EXPECT_GT(pixels_like(QColor("#CFE3DF")), 3000) << "corridor";
}

// State what is wanted, see where it is missed, mend it, keep both, and show the proof.
TEST_F(WindowTask, FromGoalToProof) {
    QTest::mouseClick(window->channel_tabs(), Qt::LeftButton, {},
                      window->channel_tabs()->tab_rect(3).center());
    ASSERT_EQ(session().channel()->name, "Docent");
    shortcut(Qt::Key_F9, {});
    ASSERT_TRUE(window->goal_pane()->isVisible());
    // The rumble must be kept out: a ceiling of -20 dB from 5 to 40 Hz, absolute.
    const TabStrip& tabs = *window->goal_pane()->tabs();
    QTest::mouseClick(window->goal_pane()->tabs(), Qt::LeftButton, {}, tabs.tab_rect(1).center());
    QTableWidget* ranges = window->goal_pane()->corridor_table();
    ASSERT_EQ(ranges->rowCount(), 2);
    ranges->item(1, 3)->setText("0.1 ratio");
    QApplication::processEvents();
    ranges->item(1, 1)->setText("40 Hz");
    QApplication::processEvents();
    const CorridorRange& floor = session().study().goals[1]->corridor[1];
    EXPECT_NEAR(*floor.above_db, -20, 1e-9);
    EXPECT_EQ(floor.to_hz, 40);
    const Finding& missed = session().analysis()->verdict[1];
    ASSERT_EQ(missed.outcome, Outcome::not_met);
    // A closer look.
    for (FindingButton* button : window->verdict()->findings()) {
        if (button->finding().place == "corridor[1]") {
            QTest::mouseClick(button, Qt::LeftButton);
        }
    }
    EXPECT_NEAR(*session().plumb().hz(), 40, 1e-3);
    EXPECT_TRUE(lanes().is_magnified());
    EXPECT_FALSE(lanes().magnified_text(Lane::magnitude).isEmpty());
    // Keep what there was, then make it a fourth-order Butterworth of two sections.
    const std::size_t takes = session().channel()->takes.size();
    shortcut(Qt::Key_F4, {});
    ASSERT_EQ(session().channel()->takes.size(), takes + 1);
    session().select_stage(id(0));
    lanes().setFocus();
    shortcut(Qt::Key_Insert, Qt::ControlModifier);
    ASSERT_EQ(stages(), 4u);
    type(trim().q(), "1.307");
    session().select_stage(id(0));
    type(trim().q(), "0.541");
    EXPECT_TRUE(is_met(session().analysis()->verdict));
    lanes().setFocus();
    QTest::keyClick(&lanes(), Qt::Key_Home);
    EXPECT_FALSE(lanes().is_magnified());
    // The proof: all channels in the pane, the lanes as a drawing.
    shortcut(Qt::Key_F9, Qt::ShiftModifier);
    EXPECT_TRUE(window->verdict_pane()->tree()->topLevelItem(3)->text(0).startsWith("●"));
    const QString drawing = QString::fromStdString(scratch.file("docent.svg").string());
    EXPECT_TRUE(save_lanes(lanes(), {}, drawing));
    EXPECT_GT(QFileInfo(drawing).size(), 10000);
}

} // namespace
} // namespace syntonon
