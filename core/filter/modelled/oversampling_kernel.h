// What is run at two, four or eight times the rate, between half-band filters that lead up and
// down. It needs nothing but the standard library, since what instruments are given is this text.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/modelled/half_band_kernel.h"

#include <array>
#include <cstddef>

namespace syntonon::modelled {

inline constexpr std::size_t most_doublings = 3;

// From outside to inside. At 48 kHz they pass up to 20 kHz; from there on back into that band they
// stop 112, 102 and 102 dB. Elliptic ones; half_band.h has the closed form that they come from.
inline constexpr std::array<HalfBandCoefficients, most_doublings> doubling_filters = {{
    {{0.033397507751962825, 0.12629293897816382, 0.26058294845677837, 0.41588588562225592,
      0.57735026918962551, 0.73970737835597711, 0.90840315375417546},
     7},
    {{0.063787836824299199, 0.26678096249715921, 0.66854879318361171}, 3},
    {{0.054700068223640916, 0.239878601536372, 0.64367394154980639}, 3},
}};

template <std::size_t Voices>
struct Doublings {
    std::array<HalfBandState<Voices>, most_doublings> up{}, down{};
};

// A sample of each voice in place; `inner` takes one of each in place, at the higher rate.
template <std::size_t Count, std::size_t Level = 0, std::size_t Voices, class Inner>
void run_doubled(Doublings<Voices>& state, std::array<double, Voices>& x, Inner&& inner) {
    if constexpr (Level == Count) {
        inner(x);
    } else {
        const HalfBandCoefficients& c = doubling_filters[Level];
        std::array<double, Voices> earlier, later;
        step_up(c, state.up[Level], x, earlier, later);
        run_doubled<Count, Level + 1>(state, earlier, inner);
        run_doubled<Count, Level + 1>(state, later, inner);
        step_down(c, state.down[Level], earlier, later, x);
    }
}

} // namespace syntonon::modelled
