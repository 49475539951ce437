// A simulated device and a study for it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/device/transfer.h"
#include "core/study/kinds.h"
#include "standin/device/device_server.h"

#include <gtest/gtest.h>
#include <map>
#include <memory>
#include <string>
#include <utility>
#include <vector>

namespace syntonon::oca {

inline constexpr Timing short_waits = {1000, 250, 100, 4};
inline constexpr Patience short_patience = {8, 40};

// One channel of a bell, three sections, a gain and taps, and a device of two outputs for it.
class DeviceInTest : public ::testing::Test {
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
    // The same, with what is enabled.
    std::map<std::uint32_t, ObjectState> states() {
        std::map<std::uint32_t, ObjectState> all;
        device->with_objects([&](DeviceObjects& objects) {
            for (const auto& [number, object] : objects.all()) {
                if (object.state) {
                    all.emplace(number, *object.state);
                }
            }
        });
        return all;
    }
    DeviceShape shape;
    std::unique_ptr<DeviceServer> device;
    Study study;
    Delivery delivery;
    Briefs briefs;
};

} // namespace syntonon::oca
