// How long a filter remembers its input.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <algorithm>

namespace syntonon {

// An impulse response is over after `finite_samples`, but for poles that ring on, the slowest of
// this radius: 0 without poles, 1 or more when it never ends.
struct Memory {
    double finite_samples = 0;
    double slowest_radius = 0;
};

// Of both one after the other, or side by side.
inline Memory series(const Memory& a, const Memory& b) {
    return {a.finite_samples + b.finite_samples, std::max(a.slowest_radius, b.slowest_radius)};
}
inline Memory parallel(const Memory& a, const Memory& b) {
    return {std::max(a.finite_samples, b.finite_samples),
            std::max(a.slowest_radius, b.slowest_radius)};
}

} // namespace syntonon
