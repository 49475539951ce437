// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/engine/engine.h"

#include <algorithm>
#include <random>
#include <span>
#include <utility>
#include <vector>

namespace syntonon {

// The signal through the engine in blocks of random lengths, 0 among them.
inline std::vector<double> in_blocks(Engine& engine, std::vector<double> signal,
                                     std::size_t most_at_once, unsigned seed) {
    std::mt19937 random(seed);
    std::span<double> rest(signal);
    while (!rest.empty()) {
        const std::size_t count = std::min<std::size_t>(random() % (most_at_once + 1), rest.size());
        engine.process(rest.first(count));
        rest = rest.subspan(count);
    }
    return signal;
}

} // namespace syntonon
