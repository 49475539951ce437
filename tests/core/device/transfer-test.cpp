// Transfers into a simulated device, whatever goes wrong with it.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/transfer.h"

#include "core/device/object_stages.h"
#include "core/study/kinds.h"
#include "standin/device/device_server.h"

#include <gtest/gtest.h>
#include <random>

namespace syntonon::oca {
namespace {

constexpr Timing short_waits = {1000, 250, 100, 4};
constexpr Patience short_patience = {8, 40};

class Transfer : public ::testing::Test {
protected:
    void SetUp() override {
        shape.outputs = 2;
        shape.most_taps = 256;
        shape.processor = *shipped_processor("reed-28"); // Q5.23, given room for taps
        shape.processor.most_taps = 1024;
        shape.processor.clock_hz = 1e9;
        shape.processor.coefficient_words.reset();
        shape.processor.state_words.reset();
        auto started = DeviceServer::start(shape);
        ASSERT_TRUE(started) << to_text(started.error());
        device = std::move(*started);
        Channel channel;
        channel.id = channel.name = "one";
        ClassicalSpec steep;
        steep.family = ClassicalFamily::elliptic;
        steep.order = 5;
        add(channel, "bell", parametric(ParametricShape::peak, 1000, -3, 2));
        add(channel, "steep", steep);
        add(channel, "gain", GainSpec{-6, false, {}});
        add(channel, "taps",
            TapsSpec{std::make_shared<const std::vector<double>>(std::vector{0.5, 0.25, 0.125})});
        study.channels = {SharedValue<Channel>(channel)};
        delivery.id = "rack";
    }
    static void add(Channel& channel, const char* id, StageSpec spec) {
        Stage stage;
        stage.id = id;
        stage.spec = std::move(spec);
        channel.stages.emplace_back(stage);
    }
    Connect connect() {
        return [this] { return Controller::connect({"127.0.0.1", device->port()}, short_waits); };
    }
    DeviceTree tree() {
        const auto controller = connect()();
        EXPECT_TRUE(controller);
        const auto read = read_tree(**controller);
        EXPECT_TRUE(read);
        return read.value_or(DeviceTree());
    }
    Expected<TransferPlan> plan() {
        const DeviceTree now = tree();
        delivery.device = proposed_target(study, delivery, now, briefs);
        return plan_transfer(map_to_device(study, delivery, now, briefs), now, delivery.device,
                             coefficient_values(shape.processor.section_words));
    }
    // All that the device is set to, by number.
    std::map<std::uint32_t, Setting> held() {
        std::map<std::uint32_t, Setting> settings;
        device->with_objects([&](DeviceObjects& objects) {
            for (const auto& [number, object] : objects.all()) {
                if (object.state) {
                    settings.emplace(number, object.state->setting);
                }
            }
        });
        return settings;
    }
    DeviceShape shape;
    std::unique_ptr<DeviceServer> device;
    Study study;
    Delivery delivery;
    Briefs briefs;
};

TEST_F(Transfer, SetsWhatIsPlannedAndOpensAgain) {
    const auto wanted = plan();
    ASSERT_TRUE(wanted) << to_text(wanted.error());
    EXPECT_EQ(wanted->changes(), 1u + 3 + 1 + 1);
    ASSERT_EQ(wanted->notes.size(), 2u) << "two classical objects are not used";
    const TransferReport report = transfer(connect(), *wanted);
    EXPECT_EQ(report.end, TransferEnd::done) << (report.problem ? to_text(*report.problem) : "");
    EXPECT_EQ(report.sections, 5u) << "bell, three sections, gain";
    EXPECT_EQ(report.taps, 3u);
    const auto now = held();
    for (const PlannedObject& object : wanted->objects) {
        EXPECT_LE(difference(object.after, now.at(object.number)), object.tolerance) << object.path;
    }
    EXPECT_EQ(now.at(wanted->mutes.at(0).number), Setting(MuteSetting{false}));
    EXPECT_EQ(plan()->changes(), 0u) << "equal in its word is no change";
    const TransferReport again = transfer(connect(), *plan());
    EXPECT_EQ(again.end, TransferEnd::done);
    EXPECT_TRUE(again.steps.empty()) << "nothing differs any more";
}

TEST_F(Transfer, WhatIsNotMappedIsSwitchedOff) {
    ASSERT_EQ(transfer(connect(), *plan()).end, TransferEnd::done);
    study.channels[0].edit().stages.resize(1);
    const auto less = plan();
    ASSERT_TRUE(less);
    EXPECT_EQ(transfer(connect(), *less).end, TransferEnd::done);
    for (const PlannedObject& object : less->objects) {
        EXPECT_EQ(object.stage.empty(), is_idle(held().at(object.number))) << object.path;
    }
}

TEST_F(Transfer, AnOutputThatWasMutedStaysMuted) {
    const auto muted = plan();
    device->with_objects([&](DeviceObjects& objects) {
        std::vector<PropertyChange> changes;
        objects.set(muted->mutes[0].number, MuteSetting{true}, changes);
    });
    const auto wanted = plan();
    EXPECT_TRUE(wanted->mutes[0].was_muted);
    EXPECT_EQ(transfer(connect(), *wanted).end, TransferEnd::done);
    EXPECT_EQ(held().at(wanted->mutes[0].number), Setting(MuteSetting{true}));
}

TEST_F(Transfer, ARefusalInTheMiddleLeavesTheDeviceAsItWas) {
    const auto wanted = plan();
    const auto before = held();
    device->set_faults({{FaultKind::refuse, 4}});
    const TransferReport report = transfer(connect(), *wanted, {}, short_patience);
    EXPECT_EQ(report.end, TransferEnd::rolled_back);
    ASSERT_TRUE(report.problem);
    EXPECT_NE(report.problem->place.find("Output 1/"), std::string::npos)
        << "by name: " << report.problem->place;
    EXPECT_EQ(held(), before);
}

TEST_F(Transfer, AStopLeavesTheDeviceAsItWas) {
    const auto wanted = plan();
    const auto before = held();
    const Watch watch;
    watch.stop();
    EXPECT_EQ(transfer(connect(), *wanted, watch).end, TransferEnd::rolled_back);
    EXPECT_EQ(held(), before);
}

// Whatever happens at whichever call, it is wholly new or wholly old, and open.
TEST_F(Transfer, EveryFaultAtEveryCallEndsWhollyNewOrWhollyOld) {
    const auto wanted = plan();
    ASSERT_TRUE(wanted);
    const auto before = held();
    ASSERT_EQ(transfer(connect(), *wanted).end, TransferEnd::done);
    const auto after = held();
    std::mt19937 random(7);
    for (int i = 0; i < 60; ++i) {
        device->with_objects([](DeviceObjects& objects) { objects.reset(); });
        std::vector<Fault> faults;
        for (int k = 0; k < 1 + i % 2; ++k) {
            faults.push_back({all_faults[random() % all_faults.size()],
                              static_cast<int>(1 + random() % 10), 400});
        }
        device->set_faults(faults);
        const TransferReport report = transfer(connect(), *wanted, {}, short_patience);
        const std::string what = fmt::format("{}: {}@{}", i, key_of(faults[0].kind), faults[0].at);
        ASSERT_NE(report.end, TransferEnd::unknown) << what << to_text(*report.problem);
        EXPECT_EQ(held(), report.end == TransferEnd::done ? after : before) << what;
        EXPECT_TRUE(report.left_muted.empty());
    }
}

TEST_F(Transfer, ADeviceThatIsGoneIsSaidToBeUnknown) {
    const auto wanted = plan();
    const Connect gone = [this] {
        return Controller::connect({"127.0.0.1", device->port()}, short_waits);
    };
    const std::uint16_t port = device->port();
    device.reset();
    const Connect nobody = [port] { return Controller::connect({"127.0.0.1", port}, short_waits); };
    const TransferReport report = transfer(nobody, *wanted, {}, {2, 10});
    EXPECT_EQ(report.end, TransferEnd::unknown);
    ASSERT_TRUE(report.problem);
    EXPECT_TRUE(report.left_muted.empty()) << "nothing was muted";
}

TEST_F(Transfer, WithoutMutingItGoesByRamps) {
    auto wanted = plan();
    wanted->mutes_outputs = false;
    wanted->ramp_ms = 40;
    const auto begin = std::chrono::steady_clock::now();
    const TransferReport report = transfer(connect(), *wanted);
    EXPECT_EQ(report.end, TransferEnd::done) << (report.problem ? to_text(*report.problem) : "");
    EXPECT_GE(std::chrono::steady_clock::now() - begin, std::chrono::milliseconds(6 * 40));
    for (const TransferStep& step : report.steps) {
        EXPECT_EQ(step.path.find("Mute"), std::string::npos);
    }
}

TEST_F(Transfer, AnOutputThatCannotBeMutedIsSaid) {
    DeviceTree without = tree();
    std::erase_if(without.objects, [](const DeviceObject& o) { return o.kind == Kind::mute; });
    delivery.device = proposed_target(study, delivery, without, briefs);
    const auto planned =
        plan_transfer(map_to_device(study, delivery, without, briefs), without, delivery.device);
    ASSERT_TRUE(planned);
    EXPECT_EQ(planned->notes.back(), "Output 1 has no mute: it sounds while it is set.");
}

TEST_F(Transfer, AStageThatFitsNowhereIsSaidBeforeAnythingIsSent) {
    study.channels[0].edit().stages.back().edit().spec =
        TapsSpec{std::make_shared<const std::vector<double>>(300, 0.1)};
    const auto refused = plan();
    ASSERT_FALSE(refused);
    EXPECT_NE(to_text(refused.error()).find("one, "), std::string::npos)
        << to_text(refused.error());
}

} // namespace
} // namespace syntonon::oca
