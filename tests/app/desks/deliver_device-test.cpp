// A delivery into a simulated device, from the window.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/desks/deliver_desk.h"
#include "app/model/device_work.h"
#include "app/panes/deliver/delivery_card.h"
#include "app/panes/deliver/device_page.h"
#include "app/panes/deliver/mapping_row.h"
#include "app/panes/deliver/transfer_page.h"
#include "app/top_bar.h"
#include "standin/device/running_device.h"
#include "tests/app/window_fixture.h"

#include <QComboBox>
#include <QLineEdit>
#include <QTableWidget>
#include <QToolButton>

namespace syntonon {
namespace {

class DeliverDevice : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        window->show_desk(Desk::deliver);
        desk().choose("rack");
        desk().show_device_page();
    }
    DeliverDesk& desk() { return window->deliver(); }
    DevicePage& page() { return *desk().device_page(); }
    TransferPage& transferred() { return *desk().transfer_page(); }
    DeviceWork& work() { return desk().device_work(); }
    const DeviceTarget& target() { return delivery_of(session().study(), "rack")->device; }
    template <class Condition>
    static bool comes(Condition condition) {
        return QTest::qWaitFor(condition, 20000);
    }
    // As the button's menu does it, which is filled when it is opened.
    void start_simulated() {
        emit page().simulated_button()->menu()->aboutToShow();
        for (QAction* action : page().simulated_button()->menu()->actions()) {
            if (action->text() == "Start Kestrel board") {
                action->trigger();
                break;
            }
        }
        ASSERT_TRUE(comes([this] { return page().status().startsWith("◇ Simulated"); }))
            << page().status().toStdString();
    }
    oca::DeviceServer& device() {
        return desk().devices().simulated(QString::fromStdString(target().address))->server();
    }
    void send() {
        QTest::mouseClick(page().send_button(), Qt::LeftButton);
        ASSERT_TRUE(comes([this] {
            return !work().is_sending() && work().view("rack")->is_in_step();
        })) << page().status().toStdString();
    }
    // What an object of the first output is set to.
    oca::Setting held(const std::string& role) {
        oca::Setting setting;
        device().with_objects([&](oca::DeviceObjects& objects) {
            for (const oca::SimulatedObject* object : objects.of_output(0)) {
                setting = object->role == role ? object->state->setting : setting;
            }
        });
        return setting;
    }
    float held_gain(const std::string& role) {
        return std::get<oca::ParametricSetting>(held(role)).in_band_gain_db;
    }
    DeliveryCard& card() { return **std::ranges::find(desk().cards(), "rack", &DeliveryCard::id); }
    // What a row's menu says of another object.
    QAction* choice(MappingRow& row, const QString& starts_with) {
        for (QAction* action : page().menu_for(row)->actions()) {
            if (action->text().startsWith(starts_with)) {
                return action;
            }
        }
        return nullptr;
    }
};

TEST_F(DeliverDevice, SaysHowToBeginAndThatNobodyIsThere) {
    EXPECT_EQ(page().status(), "○ not connected");
    EXPECT_EQ(card().state().standing, DeliveryStanding::never);
    EXPECT_TRUE(card().state().words.contains("not connected"));
    EXPECT_FALSE(page().send_button()->isEnabled());
    page().address()->lineEdit()->setText("127.0.0.1:9");
    QTest::keyClick(page().address()->lineEdit(), Qt::Key_Return);
    EXPECT_TRUE(comes([this] { return page().status().startsWith("◇ 127.0.0.1:9"); }))
        << page().status().toStdString();
    EXPECT_EQ(target().address, "127.0.0.1:9") << "kept in the study";
    page().address()->lineEdit()->setText("no port");
    QTest::mouseClick(page().connect_button(), Qt::LeftButton);
    EXPECT_TRUE(page().status().startsWith("◇")) << page().status().toStdString();
    desk().choose("table");
    EXPECT_TRUE(page().status().contains("A delivery may be a device"));
}

TEST_F(DeliverDevice, ShowsWhichStageGoesWhereAndSendsIt) {
    start_simulated();
    ASSERT_EQ(page().rows().size(), 6u) << "Zenith's stages";
    EXPECT_EQ(page().rows()[1]->objects(), "Filter 2 parametric");
    EXPECT_EQ(page().output_button()->text(), "Output 1");
    EXPECT_EQ(card().state().standing, DeliveryStanding::older);
    QTest::mouseClick(page().dry_run_button(), Qt::LeftButton);
    EXPECT_TRUE(transferred().summary().startsWith("Dry run: "));
    EXPECT_EQ(transferred().table()->item(1, 0)->text(), "Output 1/Filter 2");
    EXPECT_EQ(transferred().table()->item(1, 1)->text(), "no filter");
    EXPECT_TRUE(transferred().table()->item(1, 2)->text().startsWith("peak at 63 Hz"));
    EXPECT_EQ(std::get<oca::ParametricSetting>(held("Filter 2")).form, oca::ParametricForm::none);
    send();
    EXPECT_FLOAT_EQ(held_gain("Filter 2"), static_cast<float>(spec(1).gain_db));
    EXPECT_TRUE(transferred().summary().contains("nothing differs"))
        << transferred().summary().toStdString();
    EXPECT_EQ(transferred().table()->item(0, 0)->text(), "● Output 1/Mute");
    EXPECT_EQ(card().state().standing, DeliveryStanding::as_study);
    EXPECT_TRUE(page().status().contains("in step"));
    EXPECT_EQ(target().channels.size(), 2u) << "what was sent is kept";
    EXPECT_TRUE(comes([this] { return page().level_text().endsWith("dBFS"); }));

    session().edit_channel("louder", [](Channel& channel) {
        std::get<ParametricSpec>(channel.stages[1].edit().spec.edit()).gain_db -= 1;
    });
    desk().refresh_now();
    EXPECT_TRUE(card().state().words.contains("1 object differs"))
        << card().state().words.toStdString();
    QTest::mouseClick(page().back_button(), Qt::LeftButton);
    ASSERT_TRUE(comes([this] { return !work().is_sending() && work().sent("rack") != nullptr; }));
    EXPECT_EQ(std::get<oca::ParametricSetting>(held("Filter 2")).form, oca::ParametricForm::none)
        << "as it was before";
    EXPECT_FALSE(page().back_button()->isEnabled());
}

TEST_F(DeliverDevice, AnObjectIsChosenFromTheRowsMenu) {
    start_simulated();
    QAction* taken = choice(*page().rows()[1], "Filter 1 parametric");
    ASSERT_NE(taken, nullptr);
    EXPECT_TRUE(taken->text().contains("now of High-pass 24 Hz")) << taken->text().toStdString();
    choice(*page().rows()[1], "Section 3 polynomial")->trigger();
    EXPECT_EQ(page().rows()[1]->objects(), "Section 3 polynomial");
    EXPECT_TRUE(undo_name().contains("objects"));
    ASSERT_EQ(target().channels.size(), 2u);
    send();
    EXPECT_NE(std::get<oca::PolynomialSetting>(held("Section 3")).numerator,
              std::vector<float>{1.0f});
    session().history().undo();
    desk().refresh_now();
    EXPECT_EQ(page().rows()[1]->objects(), "Filter 2 parametric");
}

TEST_F(DeliverDevice, AnotherOutputIsChosen) {
    start_simulated();
    emit page().output_button()->menu()->aboutToShow();
    const auto actions = page().output_button()->menu()->actions();
    ASSERT_EQ(actions.size(), 4);
    EXPECT_TRUE(actions[1]->text().contains("now of Sunrise"));
    actions[3]->trigger();
    EXPECT_EQ(page().output_button()->text(), "Output 4");
    EXPECT_EQ(page().rows()[0]->objects(), "Filter 1 parametric") << "proposed for the new one";
}

TEST_F(DeliverDevice, WhatFitsNowhereIsSaidBeforeAnythingIsSent) {
    start_simulated();
    session().edit_channel("long", [](Channel& channel) {
        Stage taps;
        taps.id = "long";
        taps.spec = TapsSpec{std::make_shared<const std::vector<double>>(9000, 1e-4)};
        channel.stages.emplace_back(taps);
    });
    desk().refresh_now();
    ASSERT_EQ(page().rows().size(), 7u);
    EXPECT_FALSE(page().rows()[6]->problem().isEmpty());
    EXPECT_EQ(card().state().standing, DeliveryStanding::impossible);
    EXPECT_TRUE(page().status().contains("fits nowhere")) << page().status().toStdString();
    EXPECT_FALSE(page().send_button()->isEnabled());
    EXPECT_FALSE(page().dry_run_button()->isEnabled());
    QAction* why = page().menu_for(*page().rows()[6])->actions().value(0);
    ASSERT_NE(why, nullptr);
    EXPECT_FALSE(why->isEnabled());
    EXPECT_TRUE(why->text().contains("4096")) << why->text().toStdString();
}

TEST_F(DeliverDevice, ARefusalLeavesItAsItWasAndSaysWhere) {
    start_simulated();
    emit page().simulated_button()->menu()->aboutToShow();
    QMenu* running = page().simulated_button()->menu()->actions().back()->menu();
    ASSERT_NE(running, nullptr);
    for (QAction* action : running->actions()) {
        if (action->text() == "Next transfer: it refuses") {
            action->trigger();
        }
    }
    QTest::mouseClick(page().send_button(), Qt::LeftButton);
    ASSERT_TRUE(comes([this] { return work().sent("rack") != nullptr; }));
    EXPECT_TRUE(transferred().summary().contains("as it was before: Output 1/"))
        << transferred().summary().toStdString();
    EXPECT_EQ(std::get<oca::ParametricSetting>(held("Filter 1")).form, oca::ParametricForm::none);
    EXPECT_FALSE(page().back_button()->isEnabled());
}

TEST_F(DeliverDevice, LiveSetsWhatIsChangedOnAnyDesk) {
    start_simulated();
    QTest::mouseClick(page().live_button(), Qt::LeftButton);
    ASSERT_TRUE(comes([this] { return page().status().startsWith("● live"); }))
        << page().status().toStdString();
    QToolButton* mark = window->top_bar()->live_mark();
    EXPECT_TRUE(mark->isVisible());
    EXPECT_EQ(mark->text(), "● live: Dome rack");
    window->show_desk(Desk::shape);
    session().select_stage(id(1));
    type(trim().gain(), "-2.5");
    EXPECT_TRUE(comes([this] { return held_gain("Filter 2") == -2.5f; })) << held_gain("Filter 2");
    session().edit_stage("off", [](Stage& stage) { stage.enabled = false; });
    EXPECT_TRUE(comes([this] { return held_gain("Filter 2") != -2.5f; }))
        << "the stages below move up, or it is left without effect";
    QTest::mouseClick(mark, Qt::LeftButton);
    EXPECT_FALSE(mark->isVisible());
    EXPECT_TRUE(work().live().empty());
}

TEST_F(DeliverDevice, LiveEndsWithTheConnection) {
    start_simulated();
    QTest::mouseClick(page().live_button(), Qt::LeftButton);
    ASSERT_TRUE(comes([this] { return page().status().startsWith("● live"); }));
    desk().devices().stop_simulated(QString::fromStdString(target().address));
    ASSERT_TRUE(comes([this] { return work().live().empty(); }));
    EXPECT_TRUE(window->message()->isVisible());
    EXPECT_FALSE(window->top_bar()->live_mark()->isVisible());
    EXPECT_TRUE(page().status().startsWith("◇")) << page().status().toStdString();
}

TEST_F(DeliverDevice, WhatIsInTheDeviceBecomesTakes) {
    start_simulated();
    send();
    const std::size_t before = session().channel()->takes.size();
    session().edit_channel("change", [](Channel& channel) { channel.stages.clear(); });
    QTest::mouseClick(page().takes_button(), Qt::LeftButton);
    ASSERT_EQ(session().channel()->takes.size(), before + 1);
    const Take& take = *session().channel()->takes.back();
    EXPECT_TRUE(take.name.starts_with("in Simulated Kestrel board")) << take.name;
    EXPECT_EQ(take.stages.size(), 6u);
    EXPECT_TRUE(take.shown);
    EXPECT_TRUE(undo_name().startsWith("Read"));
}

TEST_F(DeliverDevice, SeveralDevicesAtOnce) {
    start_simulated();
    const QString first = QString::fromStdString(target().address);
    desk().choose("amplifiers");
    emit page().simulated_button()->menu()->aboutToShow();
    page().simulated_button()->menu()->actions().value(0)->trigger();
    ASSERT_TRUE(comes([this] {
        return work().view("amplifiers") != nullptr && work().view("amplifiers")->tree != nullptr;
    }));
    EXPECT_NE(QString::fromStdString(work().view("amplifiers")->delivery.device.address), first);
    EXPECT_EQ(work().view("rack")->standing, DeviceStanding::there) << "still connected";
    EXPECT_EQ(desk().devices().all().size(), 2u);
    EXPECT_EQ(page().address()->count(), 2);
}

// As somebody else at another panel would.
TEST_F(DeliverDevice, SeesWhatSomebodyElseSets) {
    start_simulated();
    send();
    device().change([](oca::DeviceObjects& objects, std::vector<oca::PropertyChange>& changes) {
        for (const oca::SimulatedObject* object : objects.of_output(0)) {
            if (object->role == "Gain") {
                objects.set(object->number, oca::GainSetting{-12}, changes);
                break;
            }
        }
    });
    EXPECT_TRUE(comes([this] { return page().status().contains("1 object differs"); }))
        << page().status().toStdString();
}

TEST_F(DeliverDevice, AnAddressIsRememberedAndForgotten) {
    oca::DeviceShape shape;
    shape.processor = *shipped_processor("kestrel-board");
    shape.outputs = 2;
    const auto elsewhere = oca::DeviceServer::start(shape);
    ASSERT_TRUE(elsewhere);
    const QString address = QStringLiteral("127.0.0.1:%1").arg((*elsewhere)->port());
    const auto is_known = [&](const DeviceList& list) {
        const auto all = list.all();
        return std::ranges::find(all, address, &KnownDevice::address) != all.end();
    };
    page().address()->lineEdit()->setText(address);
    QTest::keyClick(page().address()->lineEdit(), Qt::Key_Return);
    ASSERT_TRUE(comes([this] { return work().view("rack")->tree != nullptr; }));
    EXPECT_TRUE(is_known(desk().devices()));
    EXPECT_TRUE(is_known(DeviceList())) << "by another window, too";
    emit page().more_button()->menu()->aboutToShow();
    for (QAction* action : page().more_button()->menu()->actions()) {
        if (action->text().startsWith("Forget ")) {
            action->trigger();
            break;
        }
    }
    EXPECT_FALSE(is_known(DeviceList()));
    EXPECT_EQ(work().view("rack")->standing, DeviceStanding::there) << "it stays connected";
}

// What was before in one device is nothing to another one.
TEST_F(DeliverDevice, AnotherAddressIsAnotherDevice) {
    start_simulated();
    const QString first = QString::fromStdString(target().address);
    work().use_address("amplifiers", first);
    send();
    EXPECT_TRUE(page().back_button()->isEnabled());
    QTest::mouseClick(page().live_button(), Qt::LeftButton);
    ASSERT_TRUE(comes([this] { return page().status().startsWith("● live"); }));
    emit page().simulated_button()->menu()->aboutToShow();
    page().simulated_button()->menu()->actions().value(0)->trigger();
    ASSERT_NE(QString::fromStdString(target().address), first);
    EXPECT_TRUE(work().live().empty()) << "it was of the other device";
    ASSERT_TRUE(comes([this] { return work().view("rack")->tree != nullptr; }));
    EXPECT_FALSE(page().back_button()->isEnabled());
    EXPECT_EQ(work().view("amplifiers")->standing, DeviceStanding::there)
        << "the other delivery goes there still";
}

TEST_F(DeliverDevice, ByRampsNothingIsMuted) {
    start_simulated();
    emit page().more_button()->menu()->aboutToShow();
    for (QAction* action : page().more_button()->menu()->actions()) {
        if (action->text() == "Not muted, by ramps of 100 ms") {
            action->trigger();
            break;
        }
    }
    EXPECT_EQ(page().send_button()->text(), "Send by ramps");
    EXPECT_FALSE(target().mutes);
    QTest::mouseClick(page().send_button(), Qt::LeftButton);
    EXPECT_EQ(page().send_button()->text(), "Stop");
    ASSERT_TRUE(comes([this] { return transferred().summary().contains("%"); }))
        << "how far it is: " << transferred().summary().toStdString();
    QTest::mouseClick(page().send_button(), Qt::LeftButton);
    ASSERT_TRUE(comes([this] { return !work().is_sending(); }));
    EXPECT_TRUE(transferred().summary().contains("as it was before"))
        << transferred().summary().toStdString();
    EXPECT_EQ(std::get<oca::ParametricSetting>(held("Filter 1")).form, oca::ParametricForm::none);
}

TEST_F(DeliverDevice, ANewDeliveryToADevice) {
    QPushButton* fresh = desk().new_button();
    for (QAction* action : fresh->menu()->actions()) {
        if (action->text() == "Device (AES70)") {
            action->trigger();
            break;
        }
    }
    EXPECT_EQ(desk().chosen(), "device");
    EXPECT_TRUE(page().isVisible());
    EXPECT_TRUE(page().address()->currentText().isEmpty());
}

} // namespace
} // namespace syntonon
