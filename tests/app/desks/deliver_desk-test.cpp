// Deliveries: made, laid out, written, and how they stand afterwards.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/desks/deliver_desk.h"
#include "app/panes/deliver/delivery_card.h"
#include "app/panes/deliver/delivery_form.h"
#include "app/panes/deliver/delivery_preview.h"
#include "core/study/study_json.h"

#include <QCheckBox>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QTableWidget>
#include <filesystem>

namespace syntonon {
namespace {

class Deliver : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        window->show_desk(Desk::deliver);
        desk().set_folder(folder());
    }
    DeliverDesk& desk() { return window->deliver(); }
    DeliveryPreview& preview() { return *desk().preview(); }
    QString folder() { return QString::fromStdString(scratch.file("out").string()); }
    DeliveryStanding standing(std::size_t card) {
        desk().refresh_now();
        return desk().cards().at(card)->state().standing;
    }
    void write() {
        QTest::mouseClick(preview().write_button(), Qt::LeftButton);
        desk().finish_writing();
    }
    void write_all() {
        desk().write_all_button()->click();
        desk().finish_writing();
    }
    const std::vector<Delivery>& deliveries() { return session().study().deliveries; }
};

TEST_F(Deliver, ListsTheStudysDeliveriesWithAPreview) {
    ASSERT_EQ(desk().cards().size(), 8u);
    EXPECT_EQ(desk().chosen(), "table");
    EXPECT_EQ(standing(0), DeliveryStanding::never);
    EXPECT_TRUE(preview().text().startsWith("# Syntonon coefficients"));
    EXPECT_EQ(preview().files()->count(), 3);
    choose_item(preview().files(), 1);
    EXPECT_TRUE(preview().text().contains("# channel: Sunrise"));
    QTest::mouseClick(desk().cards()[2], Qt::LeftButton);
    EXPECT_TRUE(preview().text().contains("static const float"));
}

TEST_F(Deliver, SaysHowADeliveryStands) {
    write();
    EXPECT_TRUE(preview().status().contains("3 files written and read back"))
        << preview().status().toStdString();
    EXPECT_EQ(desk().proof()->rowCount(), 3);
    EXPECT_EQ(standing(0), DeliveryStanding::as_study);
    session().select_stage(id(4));
    session().edit_stage(
        "louder", [](Stage& stage) { std::get<ParametricSpec>(stage.spec.edit()).gain_db += 1; });
    EXPECT_EQ(standing(0), DeliveryStanding::older);
    session().history().undo();
    EXPECT_EQ(standing(0), DeliveryStanding::as_study);
    scratch.write("out/brightwater-dome_zenith_table.csv", "somebody else's");
    EXPECT_EQ(standing(0), DeliveryStanding::changed);
    EXPECT_FALSE(preview().write_button()->isEnabled()) << "not ours to replace";
    EXPECT_TRUE(preview().status().contains("1 of these files exist already"));
    preview().replace_choice()->click();
    write();
    EXPECT_EQ(standing(0), DeliveryStanding::as_study);
}

TEST_F(Deliver, WritesItsOwnFilesAgainWithoutAsking) {
    write();
    session().edit("quieter", [](Study& s) {
        std::get<ParametricSpec>(s.channels[0].edit().stages[4].edit().spec.edit()).gain_db -= 1;
    });
    desk().refresh_now();
    ASSERT_TRUE(preview().write_button()->isEnabled());
    write();
    EXPECT_EQ(standing(0), DeliveryStanding::as_study);
}

TEST_F(Deliver, RemembersWhatWasWrittenWithTheStudysPath) {
    const QString path = QString::fromStdString(scratch.file("dome.syntonon").string());
    ASSERT_TRUE(save_study(brightwater_study(), path.toStdString()));
    ASSERT_TRUE(window->open_study(path));
    desk().refresh_now();
    desk().set_folder(folder());
    write();
    ASSERT_EQ(standing(0), DeliveryStanding::as_study);
    EXPECT_FALSE(session().is_modified()) << "writing changes nothing in the study";
    window->files().close();
    window = std::make_unique<MainWindow>();
    window->show();
    ASSERT_TRUE(window->open_study(path));
    window->show_desk(Desk::deliver);
    EXPECT_EQ(standing(0), DeliveryStanding::as_study);
    EXPECT_EQ(preview().folder(), folder());
}

TEST_F(Deliver, MakesAndRemovesDeliveries) {
    desk().new_button()->menu()->actions().at(0)->trigger();
    ASSERT_EQ(deliveries().size(), 9u);
    EXPECT_EQ(deliveries()[8].name, "table 2") << "files of its own";
    EXPECT_EQ(desk().chosen(), deliveries()[8].id);
    EXPECT_EQ(deliveries()[8].channels,
              (std::vector<std::string>{"zenith", "sunrise", "sunset", "docent", "plenum-sampled"}))
        << "not Aurora, which is no cascade, nor what is analog";
    desk().remove_button()->click();
    EXPECT_EQ(deliveries().size(), 8u);
    EXPECT_EQ(undo_name(), "Remove delivery table 2");
    session().history().undo();
    EXPECT_EQ(deliveries().size(), 9u);
}

TEST_F(Deliver, EditsTheLayoutInPlace) {
    DeliveryForm& form = *desk().form();
    choose_item(form.number_choice(), 1);
    EXPECT_EQ(deliveries()[0].layout.number, NumberType::real32);
    EXPECT_EQ(deliveries()[0].layout.digits, 9);
    form.order_choice()->setCurrentText("b0 b1");
    emit form.order_choice()->lineEdit()->editingFinished();
    EXPECT_TRUE(form.problem().contains("◇")) << "an order without b2, a1 and a2";
    EXPECT_EQ(order_text(deliveries()[0].layout.order), "b0 b1 b2 a1 a2");
    form.channels()->item(2)->setCheckState(Qt::Unchecked);
    QTest::qWait(10);
    EXPECT_EQ(deliveries()[0].channels, (std::vector<std::string>{"zenith", "docent"}));
    form.channels()->item(0)->setCheckState(Qt::Checked);
    QTest::qWait(10);
    EXPECT_TRUE(deliveries()[0].channels.empty()) << "all, also later ones";
    form.channels()->item(0)->setCheckState(Qt::Unchecked);
    form.channels()->item(5)->setCheckState(Qt::Unchecked);
    QTest::qWait(10);
    form.name()->setText("rack");
    emit form.name()->editingFinished();
    desk().refresh_now();
    EXPECT_TRUE(preview().files()->currentText().contains("_rack.csv"));
}

TEST_F(Deliver, RefusesNamesWhoseFilesWouldOverwriteOneAnother) {
    desk().new_button()->menu()->actions().at(0)->trigger();
    desk().form()->name()->setText("Table");
    emit desk().form()->name()->editingFinished();
    desk().refresh_now();
    EXPECT_FALSE(preview().write_button()->isEnabled());
    EXPECT_TRUE(preview().status().contains("its file brightwater-dome_zenith_table.csv is also"))
        << preview().status().toStdString();
    EXPECT_EQ(standing(0), DeliveryStanding::impossible);
    EXPECT_FALSE(std::filesystem::exists(scratch.file("out")));
}

TEST_F(Deliver, AllAreWrittenAtOnce) {
    session().edit("two", [](Study& study) { study.deliveries.resize(2); });
    desk().refresh_now();
    write_all();
    EXPECT_TRUE(preview().status().contains("6 files written and read back"))
        << preview().status().toStdString();
    EXPECT_EQ(standing(0), DeliveryStanding::as_study);
    EXPECT_EQ(standing(1), DeliveryStanding::as_study);
    // One that cannot be written keeps none of the others from it.
    scratch.write("out/brightwater-dome_zenith_table.csv", "somebody else's");
    session().edit("louder", [](Study& s) {
        std::get<ParametricSpec>(s.channels[0].edit().stages[4].edit().spec.edit()).gain_db += 1;
    });
    desk().refresh_now();
    write_all();
    EXPECT_TRUE(preview().status().contains("3 files written; table: "))
        << preview().status().toStdString();
    EXPECT_EQ(standing(0), DeliveryStanding::changed);
    EXPECT_EQ(standing(1), DeliveryStanding::as_study);
    EXPECT_EQ(test::bytes_of(scratch.file("out/brightwater-dome_zenith_table.csv")),
              "somebody else's");
}

TEST_F(Deliver, ShowsTheFileOfTheChosenChannel) {
    session().select_channel(1);
    desk().refresh_now();
    EXPECT_TRUE(preview().text().contains("# channel: Sunrise"));
    choose_item(preview().files(), 0);
    desk().refresh_now();
    EXPECT_TRUE(preview().text().contains("# channel: Zenith")) << "chosen by hand";
}

// Of a chain with a model the sections are those of soft sounds alone.
TEST_F(Deliver, OfAModelTheFirstDeliveryIsItsSource) {
    session().edit("none", [](Study& study) { study.deliveries.clear(); });
    session().select_channel(4);
    ASSERT_TRUE(QTest::qWaitFor([&] { return session().analysis() != nullptr; }));
    window->export_coefficients();
    ASSERT_EQ(deliveries().size(), 1U);
    EXPECT_EQ(deliveries()[0].layout.format, FileFormat::instrument);
}

TEST_F(Deliver, IsWhereTheExportCommandLeads) {
    window->show_desk(Desk::shape);
    shortcut(Qt::Key_X, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_TRUE(preview().isVisible());
}

} // namespace
} // namespace syntonon
