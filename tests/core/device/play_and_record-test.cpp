// On a sound server of the test's own, whose output is its input.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/play_and_record.h"

#include "core/curve/deconvolution.h"
#include "core/curve/recording_check.h"
#include "tests/support/pulse_server.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <future>
#include <gtest/gtest.h>
#include <thread>

namespace syntonon {
namespace {

SweepPlan short_sweep() {
    SweepPlan plan;
    plan.length_s = 1;
    plan.lead_in_s = 0.2;
    plan.lead_out_s = 0.5;
    return plan;
}

RecordingWish both_sides() {
    RecordingWish wish;
    wish.inputs = {1, 2};
    return wish;
}

double peak_of(const std::vector<double>& samples) {
    double peak = 0;
    for (const double sample : samples) {
        peak = std::max(peak, std::abs(sample));
    }
    return peak;
}

class PlayAndRecord : public testing::Test {
protected:
    void SetUp() override {
        if (!server.is_there()) {
            GTEST_SKIP() << "pulseaudio does not start here";
        }
    }
    test::PulseServer server;
};

TEST_F(PlayAndRecord, PortsAreFound) {
    const RecordingPorts ports = recording_ports();
    ASSERT_FALSE(ports.outputs.empty());
    ASSERT_FALSE(ports.inputs.empty());
    EXPECT_EQ(ports.outputs[0].channels, 2U);
    EXPECT_EQ(ports.inputs[0].channels, 2U);
}

// Out on the left, in on both: the left one has the sweep, the right one nothing. A busy machine
// drops blocks, which is told; one of a few tries has to be whole.
TEST_F(PlayAndRecord, ASweepComesBackAsItWent) {
    const SweepPlan plan = short_sweep();
    const auto played = played_samples(plan);
    const RecordingMeter meter;
    Expected<DeviceRecording> recording = tl::unexpected(Problem{});
    std::vector<Doubt> doubts;
    for (int i = 0; i < 5; ++i) {
        recording = play_and_record(played, both_sides(), {}, meter);
        ASSERT_TRUE(recording) << to_text(recording.error());
        const auto& heard = recording->channels[0];
        doubts = doubts_of(heard, {}, plan, deconvolved(heard, plan).value());
        if (doubts.empty()) {
            break;
        }
    }
    EXPECT_TRUE(doubts.empty()) << doubts[0].text;
    ASSERT_EQ(recording->channels.size(), 2U);
    EXPECT_EQ(recording->sample_rate_hz, 48'000);
    EXPECT_EQ(recording->channels[0].size(), played.size() + 72'000);
    EXPECT_NEAR(peak_of(recording->channels[0]), std::pow(10, plan.peak_db / 20), 1e-3);
    EXPECT_EQ(peak_of(recording->channels[1]), 0);
    EXPECT_NEAR(meter.peak(), std::pow(10, plan.peak_db / 20), 1e-3);
    const auto made = deconvolved(recording->channels[0], plan);
    ASSERT_TRUE(made);
    EXPECT_NEAR(peak_of(made->response.samples), 22.0 / 24, 0.02); // a unit impulse up to 22 kHz
}

TEST_F(PlayAndRecord, TheOtherSideAlone) {
    RecordingWish wish = both_sides();
    wish.outputs = {2};
    wish.inputs = {2, 1};
    const auto recording = play_and_record(std::vector<double>(9'600, 0.25), wish, {});
    ASSERT_TRUE(recording) << to_text(recording.error());
    EXPECT_NEAR(peak_of(recording->channels[0]), 0.25, 1e-6);
    EXPECT_EQ(peak_of(recording->channels[1]), 0);
}

TEST_F(PlayAndRecord, AnotherRateIsSaidBefore) {
    RecordingWish wish = both_sides();
    wish.sample_rate_hz = 37'500;
    EXPECT_EQ(recording_rate_hz(wish).value(), 44'100);
}

TEST_F(PlayAndRecord, WhatIsNotThereIsSaid) {
    const auto reason = [](const RecordingWish& wish) {
        const auto made = play_and_record(std::vector<double>(100, 0.1), wish, {});
        return made ? std::string() : to_text(made.error());
    };
    RecordingWish wish = both_sides();
    wish.input = "Ear of the wall";
    EXPECT_EQ(reason(wish), "sound: “Ear of the wall” is not there; choose another device");
    wish = both_sides();
    wish.inputs = {3};
    EXPECT_NE(reason(wish).find("has 2 channels, and none of number 3; choose another channel"),
              std::string::npos);
    wish.inputs = {};
    EXPECT_NE(reason(wish).find("none of its channels is used; choose one"), std::string::npos);
}

TEST_F(PlayAndRecord, IsStopped) {
    const Watch watch;
    auto ended = std::async(std::launch::async, [&watch] {
        return play_and_record(std::vector<double>(48'000 * 60, 0.1), both_sides(), watch);
    });
    for (int i = 0; i < 200 && watch.done() == 0; ++i) {
        std::this_thread::sleep_for(std::chrono::milliseconds(50));
    }
    EXPECT_GT(watch.done(), 0);
    watch.stop();
    EXPECT_FALSE(ended.get());
}

TEST_F(PlayAndRecord, ADeviceThatGoesIsNoticed) {
    const Watch watch;
    auto ended = std::async(std::launch::async, [&watch] {
        return play_and_record(std::vector<double>(48'000 * 60, 0.1), both_sides(), watch);
    });
    for (int i = 0; i < 200 && watch.done() == 0; ++i) {
        std::this_thread::sleep_for(std::chrono::milliseconds(50));
    }
    server.stop();
    const auto made = ended.get();
    ASSERT_FALSE(made);
    EXPECT_NE(to_text(made.error()).find("went away while it was recording"), std::string::npos)
        << to_text(made.error());
}

} // namespace
} // namespace syntonon
