// A stream of RtAudio's, out or in, that knows whether it still runs.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <atomic>
#include <chrono>
#include <functional>
#include <memory>
#include <span>
#include <string>
#include <vector>

class RtAudio;

namespace syntonon {

struct StreamPlan {
    std::string device; // its name, for what is said
    double rate_hz = 48000;
    unsigned frames = 256;     // of a block, as wished
    unsigned blocks_ready = 2; // at most, between the program and the device
    enum Way { out, in } way = out;
    unsigned id = 0; // RtAudio's, of the port
    unsigned channels = 2;
};

// Frame by frame, all channels of it side by side.
struct StreamBlock {
    unsigned frames = 0;
    std::span<const float> in; // empty of a stream out
    std::span<float> out;      // empty of a stream in
};

class RtStream {
public:
    // Called in a thread of the device's; may neither allocate nor wait.
    using Called = std::function<void(const StreamBlock&)>;

    RtStream(std::unique_ptr<RtAudio> audio, StreamPlan plan, Called called);
    ~RtStream();
    RtStream(const RtStream&) = delete;
    RtStream& operator=(const RtStream&) = delete;

    // Then frames() is what the device has made of the wish.
    Expected<void> open();
    Expected<void> start();

    const StreamPlan& plan() const { return plan_; }
    unsigned frames() const { return plan_.frames; }
    unsigned dropouts() const { return dropouts_.load(std::memory_order_relaxed); }
    bool is_lost() const;
    double load() const { return load_.load(std::memory_order_relaxed); }

private:
    using Clock = std::chrono::steady_clock;

    void take(const StreamBlock& block, unsigned status);
    void notice_running_dry(unsigned frames, Clock::time_point now);
    Problem refusal(const std::string& why) const;

    std::unique_ptr<RtAudio> audio_;
    StreamPlan plan_;
    Called called_;
    Clock::time_point window_began_ = Clock::now();
    double window_frames_ = 0;
    std::atomic<unsigned> dropouts_ = 0;
    std::atomic<bool> lost_ = false;
    std::atomic<double> load_ = 0;
    std::atomic<Clock::rep> last_call_ = 0;
};

} // namespace syntonon
