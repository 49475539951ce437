// What some work costs in time.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <chrono>
#include <ctime>

namespace syntonon {

struct Spent {
    double wall_s, cpu_s;
};

template <class Work>
Spent spent_on(Work work) {
    const auto began = std::chrono::steady_clock::now();
    const std::clock_t cpu = std::clock();
    work();
    return {std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count(),
            static_cast<double>(std::clock() - cpu) / CLOCKS_PER_SEC};
}

} // namespace syntonon
