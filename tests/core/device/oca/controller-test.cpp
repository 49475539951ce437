// A controller against a simulated device over this machine's loopback interface.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/oca/controller.h"

#include "core/device/oca/device_tree.h"
#include "core/device/oca/status.h"
#include "standin/device/device_server.h"

#include <atomic>
#include <gtest/gtest.h>
#include <thread>

namespace syntonon::oca {
namespace {

constexpr Timing quick = {2000, 400, 100, 4};

DeviceShape small_shape() {
    DeviceShape shape;
    shape.outputs = 2;
    shape.processor = *shipped_processor("kestrel-board");
    return shape;
}

class OcaController : public ::testing::Test {
protected:
    void SetUp() override {
        auto started = DeviceServer::start(small_shape());
        ASSERT_TRUE(started) << to_text(started.error());
        device = std::move(*started);
        connect();
    }
    void connect() {
        auto made = Controller::connect({"127.0.0.1", device->port()}, quick);
        ASSERT_TRUE(made) << to_text(made.error());
        controller = std::move(*made);
    }
    std::uint32_t number_of(std::string_view path) {
        const auto tree = read_tree(*controller);
        const DeviceObject* object = tree ? tree->at_path(path) : nullptr;
        EXPECT_NE(object, nullptr) << path;
        return object != nullptr ? object->number : 0;
    }
    template <class Holds>
    static bool soon(Holds holds) {
        for (int i = 0; i < 300 && !holds(); ++i) {
            std::this_thread::sleep_for(std::chrono::milliseconds(10));
        }
        return holds();
    }
    std::unique_ptr<DeviceServer> device;
    std::unique_ptr<Controller> controller;
};

TEST_F(OcaController, ReadsWhatADeviceConsistsOf) {
    const auto tree = read_tree(*controller);
    ASSERT_TRUE(tree) << to_text(tree.error());
    EXPECT_EQ(tree->name, "Simulated processor");
    EXPECT_EQ(tree->model, small_shape().processor.name);
    const DeviceObject* section = tree->at_path("Output 2/Section 3");
    ASSERT_NE(section, nullptr);
    EXPECT_EQ(section->kind, Kind::polynomial_filter);
    EXPECT_EQ(section->state->setting, Setting(PolynomialSetting{}));
    EXPECT_EQ(section->state->limits.most_order, 2u);
    const DeviceObject* fir = tree->at_path("Output 1/FIR");
    ASSERT_NE(fir, nullptr);
    EXPECT_EQ(fir->state->limits.taps, 4096u);
    EXPECT_EQ(tree->at_path("Output 1/Level")->kind, Kind::level_sensor);
    std::size_t objects = 0;
    device->with_objects([&](DeviceObjects& all) { objects = all.all().size(); });
    EXPECT_EQ(tree->objects.size(), objects - 4) << "all but managers and the root block";
}

TEST_F(OcaController, SetsAndReadsBackEveryKindOfObject) {
    const std::vector<std::pair<const char*, Setting>> all = {
        {"Gain", GainSetting{-3}},
        {"Polarity", PolaritySetting{true}},
        {"Mute", MuteSetting{true}},
        {"Delay", DelaySetting{0.25f}},
        {"Filter 2", ParametricSetting{500, ParametricForm::notch, 3, 0, 0}},
        {"Pass 1", ClassicalSetting{90, Passband::low_pass, ClassicalForm::bessel, 3, 0}},
        {"Section 1", PolynomialSetting{{0.5f, 0.25f}, {1, -0.5f}}},
        {"FIR", FirSetting{std::vector<float>(4096, 0.125f)}}};
    for (const auto& [role, setting] : all) {
        const std::uint32_t number = number_of(std::string("Output 1/") + role);
        ASSERT_TRUE(write_setting(*controller, number, setting)) << role;
        const auto state = read_state(*controller, number, kind_of(setting));
        ASSERT_TRUE(state) << role;
        EXPECT_EQ(state->setting, setting) << role;
    }
}

TEST_F(OcaController, ARefusalSaysWhy) {
    const std::uint32_t gain = number_of("Output 1/Gain");
    const auto beyond = write_setting(*controller, gain, GainSetting{1000});
    ASSERT_FALSE(beyond);
    EXPECT_EQ(beyond.error().reason, words_of(Status::parameter_out_of_range));
    EXPECT_FALSE(beyond.error().way_out.empty());
    const auto nobody = controller->call({4711, {4, 1}, {}});
    ASSERT_FALSE(nobody);
    EXPECT_EQ(nobody.error().reason, words_of(Status::bad_object));
    EXPECT_FALSE(controller->call({gain, {9, 9}, {}}));
    EXPECT_FALSE(controller->lost()) << "a refusal is no loss";
}

TEST_F(OcaController, ManyCallsAreAnsweredInTheirOrder) {
    std::vector<Call> calls;
    for (int i = 0; i < 500; ++i) {
        calls.push_back({i % 2 == 0 ? 1000u : 2000u, {1, 5}, {}});
    }
    const auto answers = controller->call_all(calls);
    ASSERT_EQ(answers.size(), calls.size());
    for (std::size_t i = 0; i < answers.size(); ++i) {
        ASSERT_TRUE(answers[i]);
        Reader in(answers[i]->bytes);
        EXPECT_EQ(in.text(), i % 2 == 0 ? "Output 1" : "Output 2");
    }
}

TEST_F(OcaController, HearsWhatOthersChange) {
    const std::uint32_t gain = number_of("Output 1/Gain");
    std::atomic<float> heard = 0;
    ASSERT_TRUE(controller->subscribe(gain, {1, 1}, [&](const Notification& notification) {
        Reader in(notification.data);
        if (in.u16() == 4 && in.u16() == 1) {
            heard = in.f32();
        }
    }));
    auto other = Controller::connect({"127.0.0.1", device->port()}, quick);
    ASSERT_TRUE(other);
    ASSERT_TRUE(write_setting(**other, gain, GainSetting{-12}));
    EXPECT_TRUE(soon([&] { return heard == -12; }));
    ASSERT_TRUE(controller->unsubscribe(gain, {1, 1}));
    ASSERT_TRUE(write_setting(**other, gain, GainSetting{-6}));
    ASSERT_TRUE(controller->call({gain, {1, 5}, {}}));
    EXPECT_EQ(heard, -12);
}

TEST_F(OcaController, StaysConnectedWhileNothingIsSaid) {
    std::this_thread::sleep_for(std::chrono::milliseconds(quick.keep_alive_ms * 8));
    EXPECT_FALSE(controller->lost());
    EXPECT_EQ(device->connections(), 1u);
    controller.reset();
    EXPECT_TRUE(soon([&] { return device->connections() == 0; }));
}

TEST_F(OcaController, ALostDeviceIsSaidAtOnceFromThenOn) {
    const std::uint32_t gain = number_of("Output 1/Gain");
    device.reset();
    EXPECT_TRUE(soon([&] { return controller->lost().has_value(); }));
    const auto refused = write_setting(*controller, gain, GainSetting{-1});
    ASSERT_FALSE(refused);
    EXPECT_NE(to_text(refused.error()).find("127.0.0.1"), std::string::npos);
    EXPECT_FALSE(refused.error().way_out.empty());
}

TEST_F(OcaController, ALateAnswerIsNoneAndTheNextCallWorks) {
    const std::uint32_t gain = number_of("Output 1/Gain");
    device->set_faults({{FaultKind::delay, 1, 1000}});
    const auto late = write_setting(*controller, gain, GainSetting{-1});
    ASSERT_FALSE(late);
    EXPECT_EQ(late.error().reason, "the device does not answer");
    EXPECT_FALSE(controller->lost());
    EXPECT_TRUE(write_setting(*controller, gain, GainSetting{-2}));
}

TEST_F(OcaController, FaultsDoWhatTheySay) {
    const std::uint32_t gain = number_of("Output 1/Gain");
    const auto held = [&] {
        float db = 0;
        device->with_objects([&](DeviceObjects& all) {
            db = std::get<GainSetting>(all.object(gain)->state->setting).gain_db;
        });
        return db;
    };
    device->set_faults({{FaultKind::refuse, 1},
                        {FaultKind::full, 2},
                        {FaultKind::wrong_read_back, 3},
                        {FaultKind::drop_done, 4}});
    EXPECT_EQ(write_setting(*controller, gain, GainSetting{-1}).error().reason,
              words_of(Status::device_error));
    EXPECT_EQ(write_setting(*controller, gain, GainSetting{-1}).error().reason,
              words_of(Status::buffer_overflow));
    EXPECT_TRUE(write_setting(*controller, gain, GainSetting{-1}));
    EXPECT_EQ(held(), 0) << "it only says so";
    EXPECT_FALSE(write_setting(*controller, gain, GainSetting{-5}));
    EXPECT_EQ(held(), -5);
    EXPECT_TRUE(soon([&] { return controller->lost().has_value(); }));
    connect();
    device->set_faults({{FaultKind::drop, 1}});
    EXPECT_FALSE(write_setting(*controller, gain, GainSetting{-7}));
    EXPECT_EQ(held(), -5);
    connect();
    device->set_faults({{FaultKind::reboot, 1}});
    EXPECT_FALSE(write_setting(*controller, gain, GainSetting{-7}));
    EXPECT_EQ(held(), 0) << "as when it was switched on";
}

TEST(OcaConnecting, NobodyThereIsSaidWithTheAddress) {
    std::uint16_t port = 0;
    {
        auto device = DeviceServer::start(small_shape());
        ASSERT_TRUE(device);
        port = (*device)->port();
        EXPECT_FALSE(DeviceServer::start(small_shape(), port)) << "it is taken";
    }
    const auto refused = Controller::connect({"127.0.0.1", port}, quick);
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().place, text_of(Address{"127.0.0.1", port}));
    EXPECT_FALSE(refused.error().way_out.empty());
    EXPECT_FALSE(Controller::connect({"no-such-host.invalid", 65000}, quick));
}

} // namespace
} // namespace syntonon::oca
