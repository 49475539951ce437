// A zero of a function between two places where its signs differ.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cmath>
#include <optional>

namespace syntonon {

// False position, the end that stays being halved (M. Dowell and P. Jarratt, A modified regula
// falsi method, BIT 11, 1971), until a step is shorter than `near` or there have been `most_steps`.
// Nothing where both ends have one sign.
template <class Function>
std::optional<double> false_position(Function f, double low, double high, double near,
                                     int most_steps = 60) {
    double at_low = f(low), at_high = f(high), last = low;
    if (!(at_low * at_high < 0)) {
        return std::nullopt;
    }
    for (int i = 0; i < most_steps; ++i) {
        const double x = (at_low * high - at_high * low) / (at_low - at_high);
        const double here = f(x);
        if (here == 0 || std::abs(x - last) <= near) {
            return x;
        }
        const bool is_upper = here * at_high > 0;
        const bool same_side = is_upper == (last == high);
        (is_upper ? high : low) = x;
        (is_upper ? at_high : at_low) = here;
        if (same_side && i > 0) {
            (is_upper ? at_low : at_high) /= 2;
        }
        last = x;
    }
    return last;
}

} // namespace syntonon
