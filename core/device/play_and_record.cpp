// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/play_and_record.h"

#include "core/design/design.h"
#include "core/device/rt_stream.h"
#include "core/device/sound_system.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <rtaudio/RtAudio.h>
#include <thread>
#include <utility>

namespace syntonon {
namespace {

constexpr double way_s = 1.5;    // out of the program and in again, at most
constexpr double before_s = 0.3; // of silence, that the devices run

struct Devices {
    std::unique_ptr<RtAudio> audio;
    FoundPort output, input;
    double rate_hz = 0;
};

// Rates that both know; empty: any.
std::vector<double> common_rates(const SoundPort& one, const SoundPort& other) {
    if (one.rates_hz.empty() || other.rates_hz.empty()) {
        return one.rates_hz.empty() ? other.rates_hz : one.rates_hz;
    }
    std::vector<double> both;
    std::ranges::copy_if(one.rates_hz, std::back_inserter(both), [&](double hz) {
        return std::ranges::find(other.rates_hz, hz) != other.rates_hz.end();
    });
    return both;
}

Expected<void> check_channels(const std::vector<unsigned>& channels, const SoundPort& port) {
    if (channels.empty()) {
        return refuse(port.name, "none of its channels is used", "choose one");
    }
    for (const unsigned channel : channels) {
        if (channel < 1 || channel > port.channels) {
            return refuse(port.name,
                          fmt::format("has {} channel{}, and none of number {}", port.channels,
                                      port.channels == 1 ? "" : "s", channel),
                          "choose another channel or device");
        }
    }
    return {};
}

Expected<Devices> devices_for(const RecordingWish& wish) {
    Devices found;
    found.audio = system_with_both();
    if (found.audio == nullptr) {
        return refuse("sound", "there is no device that plays and one that records", sound_way_out);
    }
    const auto output = port_named(outputs_of(*found.audio), wish.output);
    const auto input = port_named(inputs_of(*found.audio), wish.input);
    for (const auto* port : {&output, &input}) {
        if (!*port) {
            return tl::unexpected(port->error());
        }
    }
    if (auto ok = check_channels(wish.outputs, output->port); !ok) {
        return tl::unexpected(ok.error());
    }
    if (auto ok = check_channels(wish.inputs, input->port); !ok) {
        return tl::unexpected(ok.error());
    }
    SoundPort both = output->port;
    both.rates_hz = common_rates(output->port, input->port);
    const bool none = both.rates_hz.empty() && !output->port.rates_hz.empty();
    if (none && !input->port.rates_hz.empty()) {
        return refuse("sound",
                      fmt::format("“{}” and “{}” have no sample rate in common", output->port.name,
                                  input->port.name),
                      "choose other devices");
    }
    const auto rate_hz = device_rate_for({"", wish.sample_rate_hz, wish.frames, 0}, both);
    if (!rate_hz) {
        return tl::unexpected(rate_hz.error());
    }
    found.output = *output;
    found.input = *input;
    found.rate_hz = *rate_hz;
    return found;
}

// What the devices' threads do with each block. Nothing is allocated there.
class Tape {
public:
    Tape(std::span<const double> played, const RecordingWish& wish, double rate_hz,
         RecordingMeter meter)
        : played_(played), length_(played.size() + static_cast<std::size_t>(way_s * rate_hz)),
          silent_(static_cast<std::size_t>(before_s * rate_hz)), meter_(std::move(meter)) {
        for (const unsigned channel : wish.outputs) {
            outputs_.push_back(channel - 1);
        }
        for (const unsigned channel : wish.inputs) {
            inputs_.push_back(channel - 1);
            channels_.emplace_back(length_, 0.0);
        }
    }

    void play(const StreamBlock& block, unsigned channels) {
        const std::size_t at = played_to_.load(std::memory_order_relaxed);
        if (silent_ > 0) { // a server that begins may leave the first blocks out
            std::ranges::fill(block.out, 0.0F);
            silent_ -= std::min<std::size_t>(silent_, block.frames);
            return;
        }
        const std::size_t frames = std::min<std::size_t>(block.frames, played_.size() - at);
        std::ranges::fill(block.out, 0.0F);
        for (std::size_t n = 0; n < frames; ++n) {
            for (const std::size_t output : outputs_) {
                block.out[n * channels + output] = static_cast<float>(played_[at + n]);
            }
        }
        played_to_.store(at + frames, std::memory_order_release);
    }
    // From when it begins to play.
    void record(const StreamBlock& block, unsigned channels) {
        hears_.store(true, std::memory_order_release);
        const std::size_t at = recorded_to_.load(std::memory_order_relaxed);
        if (played_to_.load(std::memory_order_acquire) == 0) {
            return;
        }
        const std::size_t frames = std::min<std::size_t>(block.frames, length_ - at);
        float peak = 0;
        for (std::size_t i = 0; i < inputs_.size(); ++i) {
            for (std::size_t n = 0; n < frames; ++n) {
                const float sample = block.in[n * channels + inputs_[i]];
                channels_[i][at + n] = sample;
                peak = std::max(peak, std::abs(sample));
            }
        }
        meter_.note(peak);
        recorded_to_.store(at + frames, std::memory_order_release);
    }
    bool hears() const { return hears_.load(std::memory_order_acquire); }
    std::size_t recorded() const { return recorded_to_.load(std::memory_order_acquire); }
    bool is_done() const { return recorded() == length_; }
    double done() const { return static_cast<double>(recorded()) / static_cast<double>(length_); }
    std::vector<std::vector<double>> taken() { return std::move(channels_); }

private:
    std::span<const double> played_;
    std::size_t length_, silent_; // silent: before it begins
    RecordingMeter meter_;
    std::vector<std::size_t> outputs_, inputs_;
    std::vector<std::vector<double>> channels_;
    std::atomic<bool> hears_ = false;
    std::atomic<std::size_t> played_to_ = 0, recorded_to_ = 0;
};

StreamPlan plan_for(const RecordingWish& wish, double rate_hz, StreamPlan::Way way,
                    const FoundPort& port, unsigned highest_channel) {
    StreamPlan plan;
    plan.device = port.port.name;
    plan.rate_hz = rate_hz;
    plan.frames = wish.frames;
    plan.blocks_ready = 16; // nothing here is played by hand, and no block may come too late
    plan.way = way;
    plan.id = port.id;
    plan.channels = std::max(highest_channel, std::min(2U, port.port.channels));
    return plan;
}

// One that runs, with a sound system of its own: in one that goes both ways each waits for the
// other, and runs dry.
Expected<std::unique_ptr<RtStream>> running(std::unique_ptr<RtAudio> audio, StreamPlan plan,
                                            RtStream::Called called) {
    auto stream = std::make_unique<RtStream>(std::move(audio), std::move(plan), std::move(called));
    return stream->open().and_then([&] { return stream->start(); }).map([&] {
        return std::move(stream);
    });
}

// Refused where a stream is lost, or nothing moves for some seconds; stopped().
Expected<void> wait_until(const std::function<bool()>& is_so, const std::function<bool()>& moves,
                          std::span<const RtStream* const> streams, const Watch& watch) {
    using Clock = std::chrono::steady_clock;
    constexpr auto nap = std::chrono::milliseconds(10);
    constexpr double patience_s = 8; // a device that has slept
    const auto begun = Clock::now();
    while (!is_so()) {
        if (watch.is_stopped()) {
            return tl::unexpected(stopped());
        }
        const double waited_s = std::chrono::duration<double>(Clock::now() - begun).count();
        for (const RtStream* stream : streams) {
            if (stream->is_lost()) {
                return refuse(stream->plan().device, "went away while it was recording",
                              "look at its cable, or choose another device");
            }
        }
        if (!moves() && waited_s > patience_s) {
            return refuse(streams.back()->plan().device, "does not begin",
                          "look whether another program holds it, or choose another device");
        }
        std::this_thread::sleep_for(nap);
    }
    return {};
}

Expected<void> run(Devices& found, const RecordingWish& wish, Tape& tape, const Watch& watch,
                   unsigned& dropouts) {
    auto second = system_with_both(); // of the same kind as the first
    const StreamPlan in =
        plan_for(wish, found.rate_hz, StreamPlan::in, found.input, std::ranges::max(wish.inputs));
    const StreamPlan out = plan_for(wish, found.rate_hz, StreamPlan::out, found.output,
                                    std::ranges::max(wish.outputs));
    if (second == nullptr) {
        return refuse(in.device, "went away", "look at its cable, or choose another device");
    }
    const auto hearing = running(std::move(found.audio), in, [&](const StreamBlock& block) {
        tape.record(block, in.channels);
    });
    if (!hearing) {
        return tl::unexpected(hearing.error());
    }
    const RtStream* heard[] = {hearing->get()};
    const auto hears = [&] { return tape.hears(); };
    if (auto ok = wait_until(hears, hears, heard, watch); !ok) {
        return ok;
    }
    const auto playing = running(std::move(second), out,
                                 [&](const StreamBlock& block) { tape.play(block, out.channels); });
    if (!playing) {
        return tl::unexpected(playing.error());
    }
    const RtStream* both[] = {hearing->get(), playing->get()};
    const auto done = [&] {
        watch.report(tape.done());
        return tape.is_done();
    };
    auto ended = wait_until(
        done, [&] { return tape.recorded() > 0; }, both, watch);
    dropouts = (*hearing)->dropouts() + (*playing)->dropouts();
    return ended;
}

} // namespace

void RecordingMeter::note(float peak) const {
    if (peak > peak_->load(std::memory_order_relaxed)) {
        peak_->store(peak, std::memory_order_relaxed); // written by the device's thread alone
    }
}

RecordingPorts recording_ports() {
    RecordingPorts ports;
    if (const auto audio = system_with_both()) {
        ports = {without_ids(outputs_of(*audio)), without_ids(inputs_of(*audio))};
    }
    return ports;
}

Expected<double> recording_rate_hz(const RecordingWish& wish) {
    return devices_for(wish).map([](const Devices& found) { return found.rate_hz; });
}

Expected<DeviceRecording> play_and_record(std::span<const double> played, const RecordingWish& wish,
                                          const Watch& watch, const RecordingMeter& meter) {
    constexpr double ready_ms = 200;
    ask_for_latency(ready_ms);
    auto found = devices_for(wish);
    if (!found) {
        return tl::unexpected(found.error());
    }
    Tape tape(played, wish, found->rate_hz, meter);
    DeviceRecording made{found->rate_hz, {}, 0, found->output.port.name, found->input.port.name};
    if (auto ran = run(*found, wish, tape, watch, made.dropouts); !ran) {
        return tl::unexpected(ran.error());
    }
    made.channels = tape.taken();
    return made;
}

} // namespace syntonon
