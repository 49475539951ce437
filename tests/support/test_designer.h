// Kinds of stage that only tests have: slow ones, and ones that look around.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/design_store.h"

#include <atomic>
#include <chrono>
#include <functional>
#include <mutex>
#include <thread>
#include <vector>

namespace syntonon {

// Designs as usual, but counts; says of a spec what it needs and whether it is slow; a slow one
// takes so many steps of a millisecond, reports each, and looks for the stop at each.
class TestDesigner : public Designer {
public:
    using Of = std::function<bool(const StageSpec&)>;

    std::function<Needs(const StageSpec&)> needs = [](const StageSpec&) { return Needs(); };
    Of is_slow = [](const StageSpec&) { return false; };
    std::atomic<int> steps_of_ms = 0;
    mutable std::atomic<int> designs = 0;      // begun
    mutable std::atomic<int> slow_designs = 0; // begun
    mutable std::atomic<int> stops = 0;        // given up

    // The briefs of all designs of needy specs, in order.
    std::vector<Brief> briefs_seen() const {
        const std::lock_guard lock(mutex_);
        return briefs_;
    }

    Needs needs_of(const StageSpec& spec) const override { return needs(spec); }
    bool is_quick(const StageSpec& spec) const override { return !is_slow(spec); }
    Expected<Design> design(const StageSpec& spec, const Brief& brief,
                            const Watch& watch) const override {
        ++designs;
        slow_designs += is_slow(spec) ? 1 : 0;
        if (needs(spec).any()) {
            const std::lock_guard lock(mutex_);
            briefs_.push_back(brief);
        }
        const int steps = steps_of_ms;
        for (int step = 0; step < steps; ++step) {
            if (watch.is_stopped()) {
                ++stops;
                return stopped();
            }
            watch.report(step / double(steps));
            std::this_thread::sleep_for(std::chrono::milliseconds(1));
        }
        return Designer::design(spec, brief, watch);
    }

private:
    mutable std::mutex mutex_;
    mutable std::vector<Brief> briefs_;
};

} // namespace syntonon
