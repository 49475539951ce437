// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/rt_stream.h"

#include <algorithm>
#include <rtaudio/RtAudio.h>
#include <thread>
#include <utility>

namespace syntonon {

RtStream::RtStream(std::unique_ptr<RtAudio> audio, StreamPlan plan, Called called)
    : audio_(std::move(audio)), plan_(std::move(plan)), called_(std::move(called)) {}

RtStream::~RtStream() {
    try {
        if (audio_->isStreamOpen()) {
            audio_->closeStream();
        }
    } catch (const RtAudioError&) {
        lost_ = true; // the device went first
    }
}

Problem RtStream::refusal(const std::string& why) const {
    return {plan_.device, why, "choose another device, rate or block size"};
}

Expected<void> RtStream::open() {
    RtAudio::StreamParameters port;
    port.deviceId = plan_.id;
    port.nChannels = plan_.channels;
    RtAudio::StreamOptions options;
    options.flags = RTAUDIO_MINIMIZE_LATENCY | RTAUDIO_SCHEDULE_REALTIME;
    options.numberOfBuffers = plan_.blocks_ready;
    options.streamName = "Syntonon";
    const auto called = [](void* to, void* from, unsigned frames, double,
                           RtAudioStreamStatus status, void* self) {
        auto& stream = *static_cast<RtStream*>(self);
        const std::size_t samples = std::size_t{frames} * stream.plan_.channels;
        StreamBlock block{frames, {}, {}};
        if (stream.plan_.way == StreamPlan::out) {
            block.out = {static_cast<float*>(to), samples};
        } else {
            block.in = {static_cast<const float*>(from), samples};
        }
        stream.take(block, status);
        return 0;
    };
    const bool out = plan_.way == StreamPlan::out;
    try {
        audio_->openStream(out ? &port : nullptr, out ? nullptr : &port, RTAUDIO_FLOAT32,
                           static_cast<unsigned>(plan_.rate_hz), &plan_.frames, called, this,
                           &options);
    } catch (const RtAudioError& error) {
        return tl::unexpected(refusal(error.getMessage()));
    }
    return {};
}

Expected<void> RtStream::start() {
    try {
        audio_->startStream();
    } catch (const RtAudioError& error) {
        return tl::unexpected(refusal(error.getMessage()));
    }
    return {};
}

// The system's thread ends without a word when the device goes: blocks no longer come. But a
// server that was idle may have two seconds of silence ready, and play them first.
bool RtStream::is_lost() const {
    constexpr double patience_s = 6;
    const auto last =
        Clock::time_point(Clock::duration(last_call_.load(std::memory_order_relaxed)));
    return lost_.load(std::memory_order_relaxed)
           || (last != Clock::time_point()
               && std::chrono::duration<double>(Clock::now() - last).count() > patience_s);
}

void RtStream::take(const StreamBlock& block, unsigned status) {
    const auto begun = Clock::now();
    if (lost_.load(std::memory_order_relaxed)) {
        // To end the stream from here would end the program: the library throws.
        std::ranges::fill(block.out, 0.0F);
        constexpr auto idle = std::chrono::milliseconds(50);
        std::this_thread::sleep_for(idle);
        return;
    }
    if (status != 0) {
        dropouts_.fetch_add(1, std::memory_order_relaxed);
    }
    called_(block);
    const auto ended = Clock::now();
    const double took = std::chrono::duration<double>(ended - begun).count();
    constexpr double smoothing = 0.01;
    load_.store(load() + smoothing * (took * plan_.rate_hz / block.frames - load()),
                std::memory_order_relaxed);
    last_call_.store(ended.time_since_epoch().count(), std::memory_order_relaxed);
    notice_running_dry(block.frames, ended);
}

// A server that is gone takes blocks as fast as they can be made.
void RtStream::notice_running_dry(unsigned frames, Clock::time_point now) {
    constexpr double window_s = 0.25, ahead_s = 3; // more than any server holds ready
    const double passed = std::chrono::duration<double>(now - window_began_).count();
    window_frames_ += frames;
    if (window_frames_ > (passed + ahead_s) * plan_.rate_hz) {
        lost_.store(true, std::memory_order_relaxed);
    } else if (passed > window_s) {
        window_began_ = now;
        window_frames_ = 0;
    }
}

} // namespace syntonon
