// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/device_link.h"

#include "standin/device/device_sound.h"
#include "tests/core/device/device_in_test.h"

#include <atomic>
#include <chrono>
#include <thread>

namespace syntonon::oca {
namespace {

class LinkToDevice : public DeviceInTest {
protected:
    void open() {
        auto opened = DeviceLink::open(
            {"127.0.0.1", device->port()}, [this] { ++told; }, {}, short_waits);
        ASSERT_TRUE(opened) << to_text(opened.error());
        link = std::move(*opened);
    }
    // Within ten seconds, on a machine that does much else.
    template <class Condition>
    static bool comes(Condition condition) {
        for (int i = 0; i < 1000 && !condition(); ++i) {
            std::this_thread::sleep_for(std::chrono::milliseconds(10));
        }
        return condition();
    }
    Setting shown(const char* path) { return link->tree()->at_path(path)->state->setting; }

    std::atomic<int> told = 0;
    std::unique_ptr<DeviceLink> link;
};

TEST_F(LinkToDevice, ShowsWhatSomebodyElseSets) {
    open();
    ASSERT_TRUE(comes([&] { return link->is_told_of_changes(); }));
    const std::uint32_t gain = link->tree()->at_path("Output 1/Gain")->number;
    const auto before = link->tree();
    device->change([&](DeviceObjects& objects, std::vector<PropertyChange>& changes) {
        objects.set(gain, GainSetting{-7}, changes);
    });
    EXPECT_TRUE(comes([&] { return shown("Output 1/Gain") == Setting(GainSetting{-7}); }));
    EXPECT_EQ(before->at_path("Output 1/Gain")->state->setting, Setting(GainSetting{0}))
        << "what was looked at stays as it was";
    EXPECT_GE(told, 2) << "subscribed, changed";
}

TEST_F(LinkToDevice, ShowsWhatATransferHasSet) {
    open();
    ASSERT_TRUE(comes([&] { return link->is_told_of_changes(); }));
    const auto wanted = plan();
    ASSERT_EQ(transfer(connect(), *wanted).end, TransferEnd::done);
    EXPECT_TRUE(comes([&] {
        return plan_transfer(map_to_device(study, delivery, *link->tree(), briefs), *link->tree(),
                             delivery.device, coefficient_values(shape.processor.section_words))
                   ->changes()
               == 0;
    }));
}

TEST_F(LinkToDevice, ReadsAgainWhenAsked) {
    open();
    ASSERT_TRUE(comes([&] { return link->is_told_of_changes(); }));
    const std::uint32_t gain = link->tree()->at_path("Output 1/Gain")->number;
    device->with_objects([&](DeviceObjects& objects) { // nobody is told
        std::vector<PropertyChange> unsaid;
        objects.set(gain, GainSetting{-3}, unsaid);
    });
    link->read_again();
    EXPECT_TRUE(comes([&] { return shown("Output 1/Gain") == Setting(GainSetting{-3}); }));
}

TEST_F(LinkToDevice, ShowsLevels) {
    open();
    ASSERT_TRUE(comes([&] { return link->is_told_of_changes(); }));
    const auto level = [this] { return link->levels().at(0).db.value_or(-999); };
    EXPECT_EQ(link->levels().size(), shape.outputs);
    EXPECT_EQ(link->levels()[0].block, "Output 1");
    EXPECT_EQ(level(), -200);
    std::vector<double> square(48, 0.5);
    std::fill(square.begin() + 24, square.end(), -0.5);
    const DeviceSound sound(*device, square);
    EXPECT_TRUE(comes([&] { return std::abs(level() + 6.02) < 0.05; })) << level();
}

TEST_F(LinkToDevice, SaysThatTheConnectionIsLost) {
    open();
    ASSERT_TRUE(comes([&] { return link->is_told_of_changes(); }));
    const int before = told;
    device.reset();
    EXPECT_TRUE(comes([&] { return told > before; }));
    EXPECT_TRUE(link->lost());
    EXPECT_FALSE(link->tree()->objects.empty()) << "what was read last stands";
}

// As a device with endless settings would.
TEST_F(LinkToDevice, NoMoreIsReadThanTheLimits) {
    const DeviceTree now = tree();
    std::vector<ObjectToRead> objects;
    for (const DeviceObject& object : now.objects) {
        if (object.state) {
            objects.push_back({object.number, *object.kind});
        }
    }
    ASSERT_GT(objects.size(), 32u);
    ReadingLimits little;
    little.bytes = 10;
    const auto controller = connect()();
    const auto states = read_states(**controller, objects, little);
    ASSERT_EQ(states.size(), objects.size());
    EXPECT_TRUE(states.front());
    ASSERT_FALSE(states.back());
    EXPECT_NE(states.back().error().place.find("127.0.0.1"), std::string::npos);
    EXPECT_TRUE(read_states(**controller, objects).back());
}

TEST_F(LinkToDevice, NobodyThereIsRefused) {
    const std::uint16_t port = device->port();
    device.reset();
    const auto opened = DeviceLink::open(
        {"127.0.0.1", port}, [] {}, {}, short_waits);
    ASSERT_FALSE(opened);
    EXPECT_NE(opened.error().place.find("127.0.0.1"), std::string::npos);
}

} // namespace
} // namespace syntonon::oca
