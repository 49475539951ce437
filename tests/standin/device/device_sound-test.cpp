// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/device/device_sound.h"

#include <chrono>
#include <cmath>
#include <gtest/gtest.h>
#include <numbers>
#include <thread>

namespace syntonon::oca {
namespace {

DeviceShape two_outputs() {
    DeviceShape shape;
    shape.outputs = 2;
    shape.processor = *shipped_processor("kestrel-board");
    return shape;
}

void set(DeviceObjects& objects, std::size_t output, std::string_view role,
         const Setting& setting) {
    std::vector<PropertyChange> changes;
    for (const SimulatedObject* object : objects.of_output(output)) {
        if (object->role == role) {
            ASSERT_EQ(objects.set(object->number, setting, changes), Status::ok) << role;
        }
    }
}

TEST(DeviceSoundTest, AnOutputDoesWhatItsObjectsSay) {
    DeviceObjects objects(two_outputs());
    set(objects, 0, "Gain", GainSetting{-6});
    set(objects, 0, "Filter 2", ParametricSetting{1000, ParametricForm::peak, 2, 4, 0});
    set(objects, 0, "Section 3", PolynomialSetting{{0.5f, 0.5f}, {1}});
    set(objects, 0, "FIR", FirSetting{{0, 1}});
    const auto filter = filter_of_output(objects, 0);
    ASSERT_TRUE(filter) << to_text(filter.error());
    const Axis axis(48'000);
    const double average = 20 * std::log10(std::cos(std::numbers::pi * 1000 / 48'000));
    EXPECT_NEAR(filter->response_at(1000, axis).magnitude_db, -6 + 4 + average, 0.001);
    EXPECT_NEAR(filter->response_at(15'000, axis).magnitude_db,
                -6 + 20 * std::log10(std::cos(std::numbers::pi * 15'000 / 48'000)), 0.1);
    EXPECT_NEAR(filter_of_output(objects, 1)->response_at(1000, axis).magnitude_db, 0, 0.001);
    set(objects, 0, "Mute", MuteSetting{true});
    EXPECT_LT(filter_of_output(objects, 0)->response_at(1000, axis).magnitude_db, -200);
}

TEST(DeviceSoundTest, SensorsShowTheLevelOfWhatComesOut) {
    auto server = DeviceServer::start(two_outputs());
    ASSERT_TRUE(server);
    std::vector<double> sine(48);
    for (std::size_t n = 0; n < sine.size(); ++n) {
        sine[n] = std::sin(2 * std::numbers::pi * static_cast<double>(n) / 48);
    }
    const DeviceSound sound(**server, sine);
    const auto reading = [&](std::size_t output) {
        float db = 0;
        (*server)->with_objects([&](DeviceObjects& objects) {
            for (const SimulatedObject* object : objects.of_output(output)) {
                db =
                    kind_of_class(object->class_id) == Kind::level_sensor ? object->reading_db : db;
            }
        });
        return db;
    };
    const auto comes_to = [&](std::size_t output, double db) {
        for (int i = 0; i < 200 && !(std::abs(reading(output) - db) < 0.02); ++i) {
            std::this_thread::sleep_for(std::chrono::milliseconds(20));
        }
        EXPECT_NEAR(reading(output), db, 0.02);
    };
    comes_to(0, -3.0103);
    (*server)->with_objects([](DeviceObjects& objects) {
        set(objects, 0, "Gain", GainSetting{-12});
        set(objects, 1, "Mute", MuteSetting{true});
    });
    comes_to(0, -15.0103);
    comes_to(1, -200);
}

} // namespace
} // namespace syntonon::oca
