// On a sound server of the test's own.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/sound_device.h"

#include "core/base/units.h"
#include "core/engine/player.h"
#include "core/engine/render.h"
#include "core/filter/form.h"
#include "tests/support/noise.h"
#include "tests/support/pulse_server.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <gtest/gtest.h>
#include <thread>

namespace syntonon {
namespace {

void wait_s(double s) {
    std::this_thread::sleep_for(std::chrono::duration<double>(s));
}

class SoundDevice : public testing::Test {
protected:
    void SetUp() override {
        if (!server.is_there()) {
            GTEST_SKIP() << "pulseaudio does not start here";
        }
    }
    // What the server's monitor hears of the chain.
    std::vector<float> recorded_of(const std::shared_ptr<const std::vector<double>>& in,
                                   const Filter& filter) {
        Player player({in, nullptr}, 1);
        EXPECT_TRUE(player.set_chain(0, filter));
        player.listen_to(chain_heard(0));
        server.start_recording();
        const auto stream = SoundStream::open(
            {"", 48000, 2048}, [&](std::span<double> block) { player.render(block); });
        EXPECT_TRUE(stream) << to_text(stream.error());
        player.play(true);
        for (int i = 0; i < 100 && player.position() < in->size(); ++i) {
            wait_s(0.1);
        }
        return server.stop_recording();
    }
    // By how much the recording is something else, from where it begins: a stretch of it is looked
    // for. 1 where it is not found whole.
    static double apart_from(const std::vector<double>& expected,
                             const std::vector<float>& recorded) {
        constexpr std::size_t from = 2000, stretch = 64, length = 40'000;
        const auto begin = expected.begin() + from;
        const auto found = std::search(
            recorded.begin(), recorded.end(), begin, begin + stretch,
            [](float a, double b) { return std::abs(static_cast<double>(a) - b) < 1e-6; });
        if (recorded.end() - found < static_cast<std::ptrdiff_t>(length)) {
            return 1;
        }
        double apart = 0;
        for (std::size_t n = 0; n < length; ++n) {
            apart = std::max(apart, std::abs(static_cast<double>(found[n]) - begin[n]));
        }
        return apart;
    }
    test::PulseServer server;
};

TEST_F(SoundDevice, IsFoundAndPlayed) {
    const auto outputs = sound_outputs();
    ASSERT_FALSE(outputs.empty());
    EXPECT_TRUE(outputs[0].is_default);
    std::atomic<int> samples = 0;
    const auto stream = SoundStream::open({}, [&](std::span<double> block) {
        std::ranges::fill(block, 0.0);
        samples += static_cast<int>(block.size());
    });
    ASSERT_TRUE(stream) << to_text(stream.error());
    EXPECT_EQ((*stream)->frames(), 256u);
    EXPECT_EQ((*stream)->device(), outputs[0].name);
    for (int i = 0; i < 200 && samples < 20'000; ++i) { // a sink that has slept wakes up late
        wait_s(0.1);
    }
    EXPECT_GE(samples, 20'000);
    EXPECT_FALSE((*stream)->is_lost());
}

TEST_F(SoundDevice, ThatIsNotThereIsSaid) {
    const auto stream = SoundStream::open({"Grand organ", 48000, 256}, [](std::span<double>) {});
    ASSERT_FALSE(stream);
    EXPECT_EQ(to_text(stream.error()), "sound: “Grand organ” is not there; choose another device");
}

// One that the device does not know is converted to the next above.
TEST_F(SoundDevice, AnotherRateIsConverted) {
    constexpr double odd_rate_hz = 37'500, tone_hz = 1500;
    std::size_t n = 0;
    server.start_recording();
    {
        const auto stream =
            SoundStream::open({"", odd_rate_hz, 2048}, [&](std::span<double> block) {
                for (double& sample : block) {
                    sample = 0.5 * std::sin(2 * pi * tone_hz / odd_rate_hz * double(n++));
                }
            });
        ASSERT_TRUE(stream) << to_text(stream.error());
        EXPECT_EQ((*stream)->device_rate_hz(), 44'100);
        wait_s(1.5);
    }
    const auto recorded = server.stop_recording();
    // Zeros that are passed upwards in half a second of it.
    const auto first = std::ranges::find_if(recorded, [](float x) { return std::abs(x) > 0.4F; });
    ASSERT_GT(recorded.end() - first, 30'000);
    int passed = 0;
    for (auto at = first + 4800; at < first + 4800 + 24'000; ++at) {
        passed += at[0] < 0 && at[1] >= 0 ? 1 : 0;
    }
    EXPECT_NEAR(passed, tone_hz / 2, 2);
    const auto wrong = SoundStream::open({"", 48'000, 256, 12'345}, [](std::span<double>) {});
    ASSERT_FALSE(wrong);
    EXPECT_NE(to_text(wrong.error()).find("does not play at 12345 Hz; choose another rate"),
              std::string::npos);
}

// Through the chain, out of the player, through the server, back from its monitor: what was
// rendered, but for the fade at the beginning and single precision. A busy machine drops blocks;
// one of a few tries has to be whole.
TEST_F(SoundDevice, WhatIsPlayedIsWhatWasRendered) {
    auto noisy = noise(48'000, 9);
    for (double& sample : noisy) {
        sample *= 0.2;
    }
    const auto in = std::make_shared<const std::vector<double>>(std::move(noisy));
    const Filter filter(Cascade{{{0.4, 0.1, 0.05, -1.2, 0.6}}});
    const auto expected = render(filter, *in, 0)->out;
    double apart = 1;
    for (int i = 0; i < 5 && apart > 1e-6; ++i) {
        apart = apart_from(expected, recorded_of(in, filter));
    }
    EXPECT_LT(apart, 1e-6);
}

TEST_F(SoundDevice, ThatVanishesIsNoticed) {
    const auto stream =
        SoundStream::open({}, [](std::span<double> block) { std::ranges::fill(block, 0.0); });
    ASSERT_TRUE(stream) << to_text(stream.error());
    wait_s(0.5);
    server.stop();
    for (int i = 0; i < 60 && !(*stream)->is_lost(); ++i) {
        wait_s(0.1);
    }
    EXPECT_TRUE((*stream)->is_lost());
}

TEST(NoSoundDevice, IsSaidWithTheWayOut) {
    ::setenv("PULSE_SERVER", "unix:/nowhere/at/all", 1);
    if (!sound_outputs().empty()) {
        GTEST_SKIP() << "this machine has one";
    }
    const auto stream = SoundStream::open({}, [](std::span<double>) {});
    ASSERT_FALSE(stream);
    EXPECT_EQ(to_text(stream.error()),
              "sound: there is no device to play on; plug one in, or start PulseAudio, PipeWire or "
              "JACK");
    ::unsetenv("PULSE_SERVER");
}

} // namespace
} // namespace syntonon
