// How far a design has come, and the wish that it stop.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <atomic>
#include <cstddef>
#include <memory>

namespace syntonon {

// One side holds it and looks on, the other designs and reports; copies share. May be used from
// different threads.
class Watch {
public:
    Watch() : state_(std::make_shared<State>()) {}

    // For the designer. `done` from 0 to 1; less than was reported before is not heard.
    void report(double done) const {
        const double all = from_ + (to_ - from_) * done;
        double before = state_->done.load(std::memory_order_relaxed);
        while (before < all
               && !state_->done.compare_exchange_weak(before, all, std::memory_order_relaxed)) {
        }
    }
    // For a piece of the work that takes it so far from `from` to `to`.
    Watch part(double from, double to) const {
        Watch watch = *this;
        watch.from_ = from_ + (to_ - from_) * from;
        watch.to_ = from_ + (to_ - from_) * to;
        return watch;
    }
    // The piece with this number of so many that are alike.
    Watch part_of(std::size_t index, std::size_t count) const {
        const auto all = static_cast<double>(count);
        return part(static_cast<double>(index) / all, static_cast<double>(index + 1) / all);
    }
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
    double from_ = 0, to_ = 1; // of all the work, what is reported to this one
};

} // namespace syntonon
