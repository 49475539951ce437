// Band-limited values between samples.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/units.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstddef>

namespace syntonon {

inline constexpr int kernel_reach = 32; // samples to either side

// A sinc under a Hann window whose middle stands `part` of a sample behind a sample (0 to 1): its
// values at the samples from kernel_reach - 1 before that one to kernel_reach behind it.
inline std::array<double, 2 * kernel_reach> kernel_about(double part) {
    std::array<double, 2 * kernel_reach> kernel{};
    const double sine = std::sin(pi * part);
    for (int i = 0; i < 2 * kernel_reach; ++i) {
        const int n = i - (kernel_reach - 1);
        const double x = n - part;
        // sin(pi (n - part)) = -(-1)^n sin(pi part)
        const double sinc = std::abs(x) < 1e-9 ? 1 : (n % 2 == 0 ? -sine : sine) / (pi * x);
        kernel[static_cast<std::size_t>(i)] =
            sinc * std::max(0.0, 0.5 + 0.5 * std::cos(pi * x / kernel_reach));
    }
    return kernel;
}

} // namespace syntonon
