// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/sound_device.h"

#include "core/device/rate_bridge.h"
#include "core/device/rt_stream.h"
#include "core/device/sound_system.h"

#include <algorithm>
#include <fmt/format.h>
#include <rtaudio/RtAudio.h>
#include <utility>

namespace syntonon {
namespace {

// Plays the same on both sides.
class PlayingStream final : public SoundStream {
public:
    PlayingStream(std::unique_ptr<RtAudio> audio, StreamPlan plan, Fill fill)
        : fill_(std::move(fill)), stream_(std::move(audio), std::move(plan),
                                          [this](const StreamBlock& block) { play(block); }) {}

    Expected<void> start() {
        return stream_.open().and_then([this] {
            block_.resize(stream_.frames());
            return stream_.start();
        });
    }
    unsigned frames() const override { return stream_.frames(); }
    double device_rate_hz() const override { return stream_.plan().rate_hz; }
    const std::string& device() const override { return stream_.plan().device; }
    unsigned dropouts() const override { return stream_.dropouts(); }
    bool is_lost() const override { return stream_.is_lost(); }
    double load() const override { return stream_.load(); }

private:
    void play(const StreamBlock& to) {
        const auto block = std::span(block_).first(std::min<std::size_t>(to.frames, block_.size()));
        fill_(block);
        for (std::size_t n = 0; n < block.size(); ++n) {
            to.out[2 * n] = to.out[2 * n + 1] = static_cast<float>(block[n]);
        }
    }

    Fill fill_;
    std::vector<double> block_;
    RtStream stream_; // last: it ends before what it calls
};

} // namespace

Expected<std::unique_ptr<SoundStream>> SoundStream::open(const SoundWish& wish, Fill fill) {
    constexpr double blocks_ready = 4; // with fewer a busy machine is heard
    ask_for_latency(1000 * blocks_ready * wish.frames / wish.sample_rate_hz);
    auto audio = system_with_output();
    if (audio == nullptr) {
        return refuse("sound", "there is no device to play on", sound_way_out);
    }
    const auto chosen = port_named(outputs_of(*audio), wish.device);
    if (!chosen) {
        return tl::unexpected(chosen.error());
    }
    const auto rate_hz = device_rate_for(wish, chosen->port);
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
    StreamPlan plan;
    plan.device = chosen->port.name;
    plan.rate_hz = *rate_hz;
    plan.frames = wish.frames;
    plan.id = chosen->id;
    auto stream =
        std::make_unique<PlayingStream>(std::move(audio), std::move(plan), std::move(fill));
    if (auto started = stream->start(); !started) {
        return tl::unexpected(started.error());
    }
    return stream;
}

} // namespace syntonon
