// Filters as curves of an arbitrary-curve object, and back.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/device/oca/settings.h"
#include "core/filter/filter.h"

#include <cstddef>
#include <vector>

namespace syntonon::oca {

// Ratio and unwrapped phase at so many frequencies in equal ratios, from 10 Hz to just below half
// the rate. Between them a device draws a line of its own, so that it does about what the filter
// does, no more. Refused: a filter that cannot be asked for its response; fewer than two points.
Expected<CurveSetting> curve_of(const Filter& filter, double sample_rate_hz, std::size_t points);

constexpr std::size_t curve_taps = 4096;
// Taps that go through the curve, by sampling it in frequency, with a delay of half their number
// for what answers before it is asked (L. R. Rabiner and B. Gold, Theory and Application of Digital
// Signal Processing, 1975, section 3.15). Straight lines between points, in ratio and phase over
// the frequency; the ratio goes on level beyond the ends, the phase towards none at 0 Hz.
std::vector<double> taps_of(const CurveSetting& curve, double sample_rate_hz);

} // namespace syntonon::oca
