// Numbers too small to be heard, and slow to compute with, are none.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cmath>

namespace syntonon::modelled {

inline double flushed(double value) {
    constexpr double least = 1e-120;             // its square is a normal number, too
    return std::abs(value) >= least ? value : 0; // what is no number is none, too
}

} // namespace syntonon::modelled
