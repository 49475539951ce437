// Twice the rate and back: half-band filters of two chains of all-passes, H(z) = (A0(z^2) +
// z^-1 A1(z^2)) / 2, each chain working at the lower rate (R. A. Valenzuela and A. G.
// Constantinides, Digital signal processing schemes for efficient interpolation and decimation, IEE
// Proc. 130 G(6), 1983). It needs nothing but the standard library, since what instruments are
// given is this text.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/modelled/flushed.h"

#include <array>
#include <cstddef>

namespace syntonon::modelled {

inline constexpr std::size_t most_half_band_sections = 12;

// Ascending; those at even places make A0, those at odd ones A1.
struct HalfBandCoefficients {
    std::array<double, most_half_band_sections> a{};
    std::size_t count = 0;
};

// First-order all-passes (a + z^-1) / (1 + a z^-1), every other one from `first` on.
struct AllPassChain {
    std::array<double, most_half_band_sections> before_in{}, before_out{};

    double step(const HalfBandCoefficients& c, std::size_t first, double x) {
        for (std::size_t i = first; i < c.count; i += 2) {
            const double y = flushed(c.a[i] * (x - before_out[i]) + before_in[i]);
            before_in[i] = x;
            before_out[i] = y;
            x = y;
        }
        return x;
    }
};

struct HalfBandState {
    AllPassChain first, second;
};

// A sample becomes two.
inline std::array<double, 2> step_up(const HalfBandCoefficients& c, HalfBandState& state,
                                     double x) {
    return {state.first.step(c, 0, x), state.second.step(c, 1, x)};
}

// Two become one.
inline double step_down(const HalfBandCoefficients& c, HalfBandState& state, double earlier,
                        double later) {
    return 0.5 * (state.first.step(c, 0, later) + state.second.step(c, 1, earlier));
}

} // namespace syntonon::modelled
