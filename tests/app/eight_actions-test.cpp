// From eight measured files to what two channels' processors are handed, as docs/eight-actions.md
// counts it.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/desks/deliver_desk.h"
#include "app/desks/shape_desk.h"
#include "app/dialogs/measurements_dialog.h"
#include "app/panes/correction/correction_page.h"
#include "app/panes/correction/fit_channels_pane.h"
#include "app/panes/deliver/delivery_preview.h"
#include "app/panes/goal/target_tab.h"
#include "standin/room.h"
#include "tests/support/sounds.h"

#include <QDir>
#include <QDragEnterEvent>
#include <QMimeData>
#include <QTableWidget>
#include <QUrl>

namespace syntonon {
namespace {

class EightActions : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        window->session().replace_study(empty_study());
    }

    // Two loudspeakers, heard at four seats each.
    QList<QUrl> measured_files() {
        RoomPlan room;
        room.length_m = 6;
        room.width_m = 4.5;
        room.height_m = 2.7;
        room.reflection = 0.6;
        room.length_s = 0.12;
        QList<QUrl> files;
        for (const auto& [side, y_m, bump_hz] :
             {std::tuple("left", 1.2, 140.0), std::tuple("right", 3.1, 190.0)}) {
            LoudspeakerPlan loudspeaker;
            loudspeaker.place = {1, y_m, 1.1};
            loudspeaker.sections = {parametric(ParametricShape::high_pass, 45, 0, 0.8),
                                    parametric(ParametricShape::peak, bump_hz, 6, 1.2),
                                    parametric(ParametricShape::peak, 2600, -4, 1)};
            for (int seat = 1; seat <= 4; ++seat) {
                const Place microphone{3.2 + 0.3 * seat, 1.7 + 0.25 * seat, 1.2};
                const auto impulse = *room_response(room, loudspeaker, microphone, 48'000);
                const auto path =
                    scratch.file(std::string(side) + "_seat_" + std::to_string(seat) + ".wav");
                test::write_sound(path, impulse.samples);
                files.push_back(QUrl::fromLocalFile(QString::fromStdString(path.string())));
            }
        }
        return files;
    }

    FitChannelsPane& channels() {
        return *dynamic_cast<CorrectionPage&>(*window->shape().upper()->page(ShapeDesk::correction))
                    .channels_pane();
    }
    std::size_t positions_of(const char* name) {
        const auto& all = session().study().channels;
        const auto found = std::ranges::find(all, name, [](const auto& one) { return one->name; });
        return found != all.end() ? (*found)->measured.size() : 0;
    }
};

TEST_F(EightActions, FromEightMeasuredFilesToTwoDeliveredChannels) {
    // 1: eight files are dropped onto the window.
    QMimeData data;
    data.setUrls(measured_files());
    QDragEnterEvent enter({5, 5}, Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(window.get(), &enter);
    QDropEvent drop({5, 5}, Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(window.get(), &drop);
    QTest::qWait(10);
    auto* asked = window->findChild<MeasurementsDialog*>();
    ASSERT_NE(asked, nullptr);
    QTRY_VERIFY_WITH_TIMEOUT(!asked->is_busy(), 10'000);
    QTest::qWait(20);
    // 2: they are what their names say.
    asked->import_button()->click();
    ASSERT_EQ(positions_of("left"), 4U);
    ASSERT_EQ(positions_of("right"), 4U);
    QTRY_VERIFY_WITH_TIMEOUT(window->findChild<MeasurementsDialog*>() == nullptr, 2000);
    window->activateWindow();
    QTest::qWait(20);
    // 3: all that was measured is to be corrected.
    shortcut(Qt::Key_K, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_TRUE(channels().isVisible()) << window->message()->text().toStdString();
    ASSERT_EQ(channels().table()->rowCount(), 2);
    // 4: left and right are to stand alike.
    channels().align()->click();
    // 5
    channels().fit()->click();
    ASSERT_TRUE(QTest::qWaitFor([&] { return !channels().is_busy(); }, 60'000));
    for (int row = 0; row < 2; ++row) {
        EXPECT_LT(channels().table()->item(row, 2)->text().toDouble(),
                  channels().table()->item(row, 1)->text().toDouble() / 2)
            << row;
        EXPECT_EQ(channels().table()->item(row, 5)->text(), "2 of 2 met") << row;
    }
    // 6: the desk of what is handed over, with a delivery for all channels.
    shortcut(Qt::Key_X, Qt::ControlModifier | Qt::ShiftModifier);
    window->deliver().set_folder(
        QString::fromStdString(scratch.file("out").string())); // as remembered
    // 7
    QTest::mouseClick(window->deliver().preview()->write_button(), Qt::LeftButton);
    window->deliver().finish_writing();
    EXPECT_TRUE(window->deliver().preview()->status().contains("read back"))
        << window->deliver().preview()->status().toStdString();
    const QDir out(QString::fromStdString(scratch.file("out").string()));
    for (const char* name : {"left", "right"}) {
        EXPECT_EQ(out.entryList({QStringLiteral("*%1*").arg(name)}, QDir::Files).size(), 1) << name;
    }
}

TEST_F(EightActions, NothingMeasuredIsSaid) {
    shortcut(Qt::Key_K, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_TRUE(window->message()->text().contains("no channel has a measured set"))
        << window->message()->text().toStdString();
}

} // namespace
} // namespace syntonon
