// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/live_settings.h"

#include "tests/core/device/device_in_test.h"

#include <chrono>
#include <thread>

namespace syntonon::oca {
namespace {

class Live : public DeviceInTest {
protected:
    void SetUp() override {
        DeviceInTest::SetUp();
        ASSERT_EQ(transfer(connect(), *plan()).end, TransferEnd::done);
        controller = std::move(*connect()());
    }
    // The plan with the bell at a level.
    TransferPlan with_bell(double gain_db) {
        study.channels[0].edit().stages[0].edit().spec =
            parametric(ParametricShape::peak, 1000, gain_db, 2);
        return *plan();
    }
    float held_gain() {
        float gain = 0;
        for (const auto& [number, setting] : held()) {
            if (const auto* bell = std::get_if<ParametricSetting>(&setting);
                bell != nullptr && bell->form == ParametricForm::peak) {
                gain = bell->in_band_gain_db;
            }
        }
        return gain;
    }
    std::unique_ptr<Controller> controller;
};

TEST_F(Live, TheLatestWishIsHeldAndFewAreSent) {
    const TransferPlan now = *plan();
    std::vector<TransferPlan> wishes;
    for (int i = 1; i <= 200; ++i) {
        wishes.push_back(with_bell(-3 - 0.01 * i));
    }
    std::size_t sent = 0, passed_over = 0;
    {
        LiveSettings live(*controller, now, std::chrono::milliseconds(30));
        for (const TransferPlan& wish : wishes) {
            live.want(wish);
            std::this_thread::sleep_for(std::chrono::milliseconds(1));
        }
        while (!live.state().is_settled) {
            std::this_thread::sleep_for(std::chrono::milliseconds(1));
        }
        sent = live.state().sent;
        passed_over = live.state().passed_over;
        EXPECT_FALSE(live.state().problem);
    }
    EXPECT_FLOAT_EQ(held_gain(), -5);
    EXPECT_EQ(sent + passed_over, 200u) << "one object is wanted otherwise, 200 times";
    EXPECT_GE(passed_over, 100u) << "of 200 within 0.2 s, one in 30 ms";
}

TEST_F(Live, WhatIsStillWantedIsSetAtTheEnd) {
    const TransferPlan now = *plan(), wish = with_bell(-9);
    {
        LiveSettings live(*controller, now, std::chrono::seconds(5));
        live.want(wish);
    }
    EXPECT_FLOAT_EQ(held_gain(), -9);
}

TEST_F(Live, WhatIsHeldIsNotSet) {
    const TransferPlan now = *plan();
    LiveSettings live(*controller, now);
    live.want(now);
    EXPECT_TRUE(live.state().is_settled);
    EXPECT_EQ(live.state().sent, 0u);
}

TEST_F(Live, ARefusalIsSaidByNameAndALaterWishTaken) {
    const TransferPlan now = *plan(), wish = with_bell(-9), later = with_bell(-8);
    LiveSettings live(*controller, now);
    device->set_faults({{FaultKind::refuse, 1}});
    const auto settle = [&] {
        while (!live.state().is_settled) {
            std::this_thread::sleep_for(std::chrono::milliseconds(1));
        }
    };
    live.want(wish);
    settle();
    ASSERT_TRUE(live.state().problem);
    EXPECT_NE(live.state().problem->place.find("Output 1/Filter 1"), std::string::npos);
    live.want(later);
    settle();
    EXPECT_FALSE(live.state().problem);
    EXPECT_FLOAT_EQ(held_gain(), -8);
}

} // namespace
} // namespace syntonon::oca
