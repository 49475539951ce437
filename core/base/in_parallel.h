// The same work for each of several things, on all cores.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <algorithm>
#include <atomic>
#include <cstddef>
#include <thread>
#include <vector>

namespace syntonon {

// work(i) once for each i below `count`, in no order, from this thread and others; over when it
// returns. It may not throw, and each may change only what is its own.
template <class Work>
void in_parallel(std::size_t count, const Work& work) {
    std::atomic<std::size_t> next = 0;
    const auto take_turns = [&] {
        for (std::size_t i = next++; i < count; i = next++) {
            work(i);
        }
    };
    const std::size_t cores = std::max(1U, std::thread::hardware_concurrency());
    std::vector<std::thread> others;
    for (std::size_t i = 1; i < std::min(cores, count); ++i) {
        others.emplace_back(take_turns);
    }
    take_turns();
    for (std::thread& other : others) {
        other.join();
    }
}

} // namespace syntonon
