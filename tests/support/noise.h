// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <algorithm>
#include <cstddef>
#include <random>
#include <vector>

namespace syntonon {

// Evenly distributed in (-1, 1); the same for the same seed.
inline std::vector<double> noise(std::size_t count, unsigned seed) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> value(-1, 1);
    std::vector<double> x(count);
    std::ranges::generate(x, [&] { return value(random); });
    return x;
}

} // namespace syntonon
