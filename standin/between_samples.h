// Band-limited values between samples.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace syntonon {

inline constexpr int kernel_reach = 32; // samples to either side

// A sinc under a Hann window, so many samples from its middle.
inline double between_kernel(double samples) {
    if (std::abs(samples) >= kernel_reach) {
        return 0;
    }
    const double x = pi * samples;
    const double sinc = std::abs(x) < 1e-9 ? 1 : std::sin(x) / x;
    return sinc * (0.5 + 0.5 * std::cos(x / kernel_reach));
}

} // namespace syntonon
