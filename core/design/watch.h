// How far a design has come, and the wish that it stop.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <atomic>
#include <memory>

namespace syntonon {

// One side holds it and looks on, the other designs and reports; copies share. May be used from
// different threads.
class Watch {
public:
    Watch() : state_(std::make_shared<State>()) {}

    // For the designer. `done` from 0 to 1.
    void report(double done) const { state_->done.store(done, std::memory_order_relaxed); }
    // Asked often (every few milliseconds); once true the designer gives up and returns stopped().
    bool is_stopped() const { return state_->stop.load(std::memory_order_relaxed); }

    // For who looks on.
    double done() const { return state_->done.load(std::memory_order_relaxed); }
    void stop() const { state_->stop.store(true, std::memory_order_relaxed); }

private:
    struct State {
        std::atomic<double> done = 0;
        std::atomic<bool> stop = false;
    };
    std::shared_ptr<State> state_;
};

} // namespace syntonon
