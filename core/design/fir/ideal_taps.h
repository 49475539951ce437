// The taps of an amplitude that is straight from place to place, as far as they go.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/math/fine_spectrum.h"
#include "core/math/line_moments.h"

#include <cstddef>
#include <span>
#include <vector>

namespace syntonon {

// 1/pi times the integral of A(w) cos w (n - delay): of the filter A(w) e^(-jw delay), that is 0
// beyond 0 to pi, the samples 0 to length - 1.
std::vector<double> ideal_taps(std::span<const LinePiece> amplitude, std::size_t length,
                               double delay);

// A of taps with linear phase about `delay` at w, as it comes of a cosine sum.
double gain_about(std::span<const double> taps, double delay, double w);

// The first place between two, in rad/sample, where the level crosses a gain, by halving; the
// middle where it does not.
double crossing_between(const FineSpectrum& spectrum, double from, double to, double gain);

} // namespace syntonon
