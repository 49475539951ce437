// Sound out on a server of its own with a sink that leads nowhere: how long from a changed filter
// to its sound, and whether anything drops out while a filter is changed all the time.
//   bench_listen [SECONDS [CHANGES [FRAMES]]]      600, 1000 and 2048: of the second part
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/units.h"
#include "core/design/parametric.h"
#include "core/device/sound_device.h"
#include "core/engine/player.h"
#include "core/filter/form.h"
#include "tests/support/pulse_server.h"

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cmath>
#include <cstdlib>
#include <fmt/format.h>
#include <rtaudio/RtAudio.h>
#include <thread>
#include <vector>

namespace {

using namespace syntonon;
using Clock = std::chrono::steady_clock;

constexpr double rate_hz = 48000, tone_hz = 200, peak = 0.1;
constexpr unsigned quick_frames = 256;

void wait_s(double s) {
    std::this_thread::sleep_for(std::chrono::duration<double>(s));
}

// What is played, as it comes back from the sink's monitor.
class Ear {
public:
    explicit Ear(unsigned frames) : audio_(RtAudio::LINUX_PULSE) {
        audio_.showWarnings(false);
        RtAudio::StreamParameters in;
        for (unsigned id = 0; id < audio_.getDeviceCount(); ++id) {
            const auto info = audio_.getDeviceInfo(id);
            if (info.inputChannels > 0) {
                in.deviceId = id;
                in.nChannels = info.inputChannels;
            }
        }
        channels_ = in.nChannels;
        unsigned block = frames;
        audio_.openStream(nullptr, &in, RTAUDIO_FLOAT32, 48000, &block, &heard, this);
        audio_.startStream();
    }
    ~Ear() { audio_.closeStream(); }

    // The loudest sample of the last block.
    std::atomic<double> loudest = 0;
    // Where the wave bends more than a filtered tone does, and silence within it: samples went
    // missing.
    std::atomic<int> breaks = 0;
    std::atomic<bool> watches = false;

private:
    static int heard(void*, void* in, unsigned count, double, RtAudioStreamStatus, void* self) {
        static_cast<Ear*>(self)->listen(static_cast<const float*>(in), count);
        return 0;
    }
    void listen(const float* in, unsigned count) {
        const double w = 2 * pi * tone_hz / rate_hz;
        const double bend = 40 * peak * w * w; // 20 dB up, and what fading adds
        double most = 0;
        for (unsigned n = 0; n < count; ++n) {
            const double now = in[n * channels_];
            most = std::max(most, std::abs(now));
            if (watches && std::abs(now - 2 * before_ + before_that_) > bend && since_ > 480) {
                ++breaks;
                since_ = 0;
            }
            ++since_;
            before_that_ = before_;
            before_ = now;
        }
        loudest = most;
    }

    RtAudio audio_;
    unsigned channels_ = 1;
    double before_ = 0, before_that_ = 0;
    int since_ = 0;
};

Filter peak_filter(double hz, double gain_db) {
    Brief brief;
    brief.sample_rate_hz = rate_hz;
    return design(parametric(ParametricShape::peak, hz, gain_db, 2), brief, {})->filter;
}

std::shared_ptr<const std::vector<double>> tone() {
    std::vector<double> samples(10 * 48000);
    for (std::size_t n = 0; n < samples.size(); ++n) {
        samples[n] = peak * std::sin(2 * pi * tone_hz * static_cast<double>(n) / rate_hz);
    }
    return std::make_shared<const std::vector<double>>(std::move(samples));
}

void measure_hand_to_ear(Player& player, const Ear& ear) {
    std::vector<double> ms;
    constexpr int times = 60;
    for (int i = 0; i < times; ++i) {
        if (!player.set_chain(0, Filter(Gain{1}))) {
            return;
        }
        wait_s(0.3 + 0.003 * i); // not in step with the blocks
        const auto hand = Clock::now();
        if (!player.set_chain(0, Filter(Gain{4}))) {
            return;
        }
        while (ear.loudest < 2 * peak && Clock::now() - hand < std::chrono::seconds(2)) {
            std::this_thread::sleep_for(std::chrono::microseconds(200));
        }
        ms.push_back(std::chrono::duration<double, std::milli>(Clock::now() - hand).count());
    }
    std::ranges::sort(ms);
    fmt::print("hand to ear at {} frames: median {:.1f} ms, 95th percentile {:.1f} ms, longest "
               "{:.1f} ms (the fade's middle and the ear's own block included)\n",
               quick_frames, ms[ms.size() / 2], ms[ms.size() * 95 / 100], ms.back());
}

} // namespace

int main(int argc, char** argv) {
    const double seconds = argc > 1 ? std::atof(argv[1]) : 600;
    const int changes = argc > 2 ? std::atoi(argv[2]) : 1000;
    const unsigned frames = argc > 3 ? static_cast<unsigned>(std::atoi(argv[3])) : 2048;
    const test::PulseServer server;
    if (!server.is_there()) {
        fmt::print("pulseaudio does not start here\n");
        return 1;
    }
    const auto in = tone();
    Player player({in, nullptr}, 1);
    if (!player.set_chain(0, Filter(Gain{1}))) {
        return 1;
    }
    player.set_loop({}, true);
    player.listen_to(chain_heard(0));
    player.play(true);
    {
        const auto stream = SoundStream::open(
            {"", rate_hz, quick_frames}, [&](std::span<double> block) { player.render(block); });
        if (!stream) {
            fmt::print("{}\n", to_text(stream.error()));
            return 1;
        }
        const Ear ear(quick_frames);
        wait_s(4);
        measure_hand_to_ear(player, ear);
    }
    // The longest time between two blocks: what the machine made them wait.
    std::atomic<double> longest_s = 0;
    Clock::time_point last;
    const auto stream = SoundStream::open({"", rate_hz, frames}, [&](std::span<double> block) {
        const auto now = Clock::now();
        if (last != Clock::time_point()) {
            longest_s =
                std::max<double>(longest_s, std::chrono::duration<double>(now - last).count());
        }
        last = now;
        player.render(block);
    });
    if (!stream || !player.set_chain(0, Filter(Gain{1}))) {
        return 1;
    }
    Ear ear(frames);
    wait_s(4);
    longest_s = 0;
    ear.watches = true;
    for (int i = 0; i < changes; ++i) {
        const double hz = tone_hz * std::exp2(std::sin(i * 0.11));
        if (!player.set_chain(0, peak_filter(hz, 12 * std::sin(i * 0.037)))) {
            fmt::print("change {} was refused\n", i);
        }
        wait_s(seconds / changes);
    }
    fmt::print(
        "{:.0f} s with {} changes at {} frames: {} breaks heard, load {:.1f} %, longest time "
        "between blocks {:.0f} ms\n",
        seconds, changes, frames, ear.breaks.load(), (*stream)->load() * 100, 1000 * longest_s);
    return 0;
}
