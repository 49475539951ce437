// Delays by parts of a sample.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"

#include <array>
#include <string_view>
#include <vector>

namespace syntonon {

enum class Interpolation { none, lagrange, all_pass, windowed_sinc };

inline constexpr std::array all_interpolations{Interpolation::none, Interpolation::lagrange,
                                               Interpolation::all_pass,
                                               Interpolation::windowed_sinc};

std::string_view key_of(Interpolation interpolation); // "none", "lagrange", …

// What an order costs grows with it, and what it gains does not.
int most_order(Interpolation interpolation);
// The least delay that an interpolator of this order makes: (order - 1) / 2, about which it is
// centred, or order - 1, above which an all-pass is stable.
double least_delay_samples(Interpolation interpolation, int order);

// Taps of an interpolator alone; any delay within them.
std::vector<double> lagrange_taps(int order, double delay);
std::vector<double> sinc_taps(int order, double delay);

// The filter that delays by `samples` in all: whole samples before an interpolator whose own delay
// lies between (order - 1) / 2 and (order + 1) / 2; that of an all-pass of order 2 and more between
// order - 1/2 and order + 1/2 where the delay is that long, since it would not be stable else.
//  lagrange       polynomial through order + 1 samples, flattest at 0 Hz
//  all_pass       group delay flattest at 0 Hz (J.-P. Thiran, Recursive digital filters with
//                 maximally flat group delay, IEEE Trans. Circuit Theory 18, 1971)
//  windowed_sinc  order + 1 taps under a Kaiser window of 60 dB about the delay, of sum 1
// after T. Laakso et al., Splitting the unit delay, IEEE Signal Processing Magazine 13, 1996, eq.
// 42 and 86. `samples` is at least least_delay_samples (above it for an all-pass).
Expected<Filter> fractional_delay(Interpolation interpolation, int order, double samples);

} // namespace syntonon
