// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/sound_device.h"

#include "core/device/rate_bridge.h"

#include <algorithm>
#include <chrono>
#include <cstdlib>
#include <fmt/format.h>
#include <optional>
#include <rtaudio/RtAudio.h>
#include <thread>

namespace syntonon {
namespace {

using Clock = std::chrono::steady_clock;

// JACK would start a server of its own, and say so, where none runs.
constexpr const char* way_out = "plug one in, or start PulseAudio, PipeWire or JACK";

std::vector<RtAudio::Api> systems() {
    std::vector<RtAudio::Api> all;
    RtAudio::getCompiledApi(all);
    std::erase_if(all, [](RtAudio::Api api) {
        return api == RtAudio::RTAUDIO_DUMMY
               || (api == RtAudio::UNIX_JACK && std::getenv("JACK_DEFAULT_SERVER") == nullptr);
    });
    return all;
}

struct FoundOutput {
    SoundOutput output;
    unsigned id = 0;
};

std::vector<FoundOutput> outputs_of(RtAudio& audio) {
    std::vector<FoundOutput> found;
    for (unsigned id = 0; id < audio.getDeviceCount(); ++id) {
        try {
            const RtAudio::DeviceInfo info = audio.getDeviceInfo(id);
            if (info.probed && info.outputChannels > 0) {
                found.push_back({{info.name,
                                  {info.sampleRates.begin(), info.sampleRates.end()},
                                  info.isDefaultOutput},
                                 id});
            }
        } catch (const RtAudioError&) {
            continue; // taken by another program, or gone meanwhile
        }
    }
    std::ranges::stable_sort(found, std::greater(),
                             [](const FoundOutput& one) { return one.output.is_default; });
    return found;
}

// The first system that has an output, opened quietly.
std::unique_ptr<RtAudio> system_with_output() {
    for (const RtAudio::Api api : systems()) {
        auto audio = std::make_unique<RtAudio>(api);
        audio->showWarnings(false);
        if (!outputs_of(*audio).empty()) {
            return audio;
        }
    }
    return nullptr;
}

// PulseAudio and PipeWire would otherwise hold two seconds ready.
void ask_for_short_latency(unsigned frames, double rate_hz) {
    constexpr double blocks = 4; // ready: with fewer a busy machine is heard
    const double ms = 1000 * blocks * frames / rate_hz;
    ::setenv("PULSE_LATENCY_MSEC", fmt::format("{:.0f}", std::max(ms, 4.0)).c_str(), 1);
}

// Of the device, as SoundWish says.
Expected<double> device_rate_for(const SoundWish& wish, const SoundOutput& output) {
    std::vector<double> rates = output.rates_hz;
    std::ranges::sort(rates);
    const auto can = [&](double hz) {
        return rates.empty() || std::ranges::find(rates, hz) != rates.end();
    };
    if (wish.device_rate_hz > 0) {
        return can(wish.device_rate_hz) ? Expected<double>(wish.device_rate_hz)
                                        : refuse("sound",
                                                 fmt::format("“{}” does not play at {} Hz",
                                                             output.name, wish.device_rate_hz),
                                                 "choose another rate");
    }
    if (can(wish.sample_rate_hz)) {
        return wish.sample_rate_hz;
    }
    const auto above = std::ranges::lower_bound(rates, wish.sample_rate_hz);
    return above != rates.end() ? *above : rates.back();
}

class RtStream final : public SoundStream {
public:
    RtStream(std::unique_ptr<RtAudio> audio, std::string device, Fill fill, double rate_hz)
        : audio_(std::move(audio)), device_(std::move(device)), fill_(std::move(fill)),
          rate_hz_(rate_hz) {}
    ~RtStream() override {
        try {
            if (audio_->isStreamOpen()) {
                audio_->closeStream();
            }
        } catch (const RtAudioError&) {
            lost_ = true; // the device went first
        }
    }

    Expected<void> start(unsigned frames, unsigned id) {
        RtAudio::StreamParameters out;
        out.deviceId = id;
        out.nChannels = 2;
        frames_ = frames;
        RtAudio::StreamOptions options;
        options.flags = RTAUDIO_MINIMIZE_LATENCY | RTAUDIO_SCHEDULE_REALTIME;
        options.numberOfBuffers = 2;
        options.streamName = "Syntonon";
        try {
            audio_->openStream(&out, nullptr, RTAUDIO_FLOAT32, static_cast<unsigned>(rate_hz_),
                               &frames_, &called, this, &options);
            block_.resize(frames_);
            audio_->startStream();
        } catch (const RtAudioError& error) {
            return refuse(device_, error.getMessage(), "choose another device, rate or block size");
        }
        return {};
    }

    unsigned frames() const override { return frames_; }
    double device_rate_hz() const override { return rate_hz_; }
    const std::string& device() const override { return device_; }
    unsigned dropouts() const override { return dropouts_.load(std::memory_order_relaxed); }
    // The system's thread ends without a word when the device goes: blocks no longer come.
    bool is_lost() const override {
        constexpr double patience_s = 2;
        const auto last =
            Clock::time_point(Clock::duration(last_call_.load(std::memory_order_relaxed)));
        return lost_.load(std::memory_order_relaxed)
               || (last != Clock::time_point()
                   && std::chrono::duration<double>(Clock::now() - last).count() > patience_s);
    }
    double load() const override { return load_.load(std::memory_order_relaxed); }

private:
    static int called(void* out, void*, unsigned frames, double, RtAudioStreamStatus status,
                      void* self) {
        static_cast<RtStream*>(self)->fill(static_cast<float*>(out), frames, status);
        return 0;
    }
    void fill(float* out, unsigned frames, RtAudioStreamStatus status) {
        const auto begun = Clock::now();
        if (lost_.load(std::memory_order_relaxed)) {
            // To end the stream from here would end the program: the library throws.
            std::fill_n(out, 2 * frames, 0.0F);
            constexpr auto idle = std::chrono::milliseconds(50);
            std::this_thread::sleep_for(idle);
            return;
        }
        if ((status & RTAUDIO_OUTPUT_UNDERFLOW) != 0) {
            dropouts_.fetch_add(1, std::memory_order_relaxed);
        }
        const auto block = std::span(block_).first(std::min<std::size_t>(frames, block_.size()));
        fill_(block);
        for (std::size_t n = 0; n < block.size(); ++n) {
            out[2 * n] = out[2 * n + 1] = static_cast<float>(block[n]);
        }
        const auto ended = Clock::now();
        const double took = std::chrono::duration<double>(ended - begun).count();
        constexpr double smoothing = 0.01;
        load_.store(load() + smoothing * (took * rate_hz_ / frames - load()),
                    std::memory_order_relaxed);
        last_call_.store(ended.time_since_epoch().count(), std::memory_order_relaxed);
        notice_running_dry(frames, ended);
    }
    // A server that is gone takes blocks as fast as they can be made.
    void notice_running_dry(unsigned frames, Clock::time_point now) {
        constexpr double window_s = 0.25, ahead_s = 3; // more than any server holds ready
        const double passed = std::chrono::duration<double>(now - window_began_).count();
        window_frames_ += frames;
        if (window_frames_ > (passed + ahead_s) * rate_hz_) {
            lost_.store(true, std::memory_order_relaxed);
        } else if (passed > window_s) {
            window_began_ = now;
            window_frames_ = 0;
        }
    }

    std::unique_ptr<RtAudio> audio_;
    std::string device_;
    Fill fill_;
    double rate_hz_;
    unsigned frames_ = 0;
    std::vector<double> block_;
    Clock::time_point window_began_ = Clock::now();
    double window_frames_ = 0;
    std::atomic<unsigned> dropouts_ = 0;
    std::atomic<bool> lost_ = false;
    std::atomic<double> load_ = 0;
    std::atomic<Clock::rep> last_call_ = 0;
};

} // namespace

std::vector<SoundOutput> sound_outputs() {
    std::vector<SoundOutput> outputs;
    if (const auto audio = system_with_output()) {
        for (FoundOutput& found : outputs_of(*audio)) {
            outputs.push_back(std::move(found.output));
        }
    }
    return outputs;
}

Expected<std::unique_ptr<SoundStream>> SoundStream::open(const SoundWish& wish, Fill fill) {
    ask_for_short_latency(wish.frames, wish.sample_rate_hz);
    auto audio = system_with_output();
    if (audio == nullptr) {
        return refuse("sound", "there is no device to play on", way_out);
    }
    const auto outputs = outputs_of(*audio);
    const auto chosen = wish.device.empty()
                            ? outputs.begin()
                            : std::ranges::find(outputs, wish.device, [](const FoundOutput& one) {
                                  return one.output.name;
                              });
    if (chosen == outputs.end()) {
        return refuse("sound", fmt::format("“{}” is not there", wish.device),
                      "choose another device");
    }
    const auto rate_hz = device_rate_for(wish, chosen->output);
    if (!rate_hz) {
        return tl::unexpected(rate_hz.error());
    }
    if (*rate_hz != wish.sample_rate_hz) {
        auto bridge = RateBridge::between(wish.sample_rate_hz, *rate_hz, std::move(fill));
        if (!bridge) {
            return tl::unexpected(bridge.error());
        }
        fill = [bridge = std::shared_ptr<RateBridge>(std::move(*bridge))](std::span<double> block) {
            bridge->fill(block);
        };
    }
    auto stream = std::make_unique<RtStream>(std::move(audio), chosen->output.name, std::move(fill),
                                             *rate_hz);
    if (auto started = stream->start(wish.frames, chosen->id); !started) {
        return tl::unexpected(started.error());
    }
    return stream;
}

} // namespace syntonon
