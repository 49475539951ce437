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

    bool operator==(const HalfBandCoefficients&) const = default;
};

// First-order all-passes (a + z^-1) / (1 + a z^-1), for voices side by side.
template <std::size_t Voices>
struct HalfBandState {
    using Row = std::array<double, Voices>;
    std::array<Row, most_half_band_sections> before_in{}, before_out{};

    void reset(std::size_t voice) {
        for (std::size_t i = 0; i < most_half_band_sections; ++i) {
            before_in[i][voice] = before_out[i][voice] = 0;
        }
    }
    // Every other one from `first` on, in place.
    void step(const HalfBandCoefficients& c, std::size_t first, Row& x) {
        for (std::size_t i = first; i < c.count; i += 2) {
            for (std::size_t j = 0; j < Voices; ++j) {
                const double in = x[j];
                x[j] = flushed(c.a[i] * (in - before_out[i][j]) + before_in[i][j]);
                before_in[i][j] = in;
                before_out[i][j] = x[j];
            }
        }
    }
};

// A sample becomes two.
template <std::size_t Voices>
void step_up(const HalfBandCoefficients& c, HalfBandState<Voices>& state,
             const std::array<double, Voices>& x, std::array<double, Voices>& earlier,
             std::array<double, Voices>& later) {
    earlier = later = x;
    state.step(c, 0, earlier);
    state.step(c, 1, later);
}

// Two become one. What came in is used up.
template <std::size_t Voices>
void step_down(const HalfBandCoefficients& c, HalfBandState<Voices>& state,
               std::array<double, Voices>& earlier, std::array<double, Voices>& later,
               std::array<double, Voices>& x) {
    state.step(c, 0, later);
    state.step(c, 1, earlier);
    for (std::size_t j = 0; j < Voices; ++j) {
        x[j] = 0.5 * (later[j] + earlier[j]);
    }
}

} // namespace syntonon::modelled
