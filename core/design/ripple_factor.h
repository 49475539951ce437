// The ripple factor of a number of decibels, and back: eps = sqrt(10^(dB / 10) - 1), so that
// |H|^2 = 1 / (1 + eps^2) lies that many dB under 1. Without losing the digits of a small ripple.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cmath>
#include <numbers>

namespace syntonon {

inline double ripple_factor_of(double db) {
    return std::sqrt(std::expm1(db / 10 * std::numbers::ln10));
}

inline double db_of_ripple_factor(double factor) {
    return 10 / std::numbers::ln10 * std::log1p(factor * factor);
}

} // namespace syntonon
