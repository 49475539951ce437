// The places k * rate / length, where a sampled filter is what it is asked to be.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/fir/sampled.h"

namespace syntonon {

// By straight lines: at w, rad/sample.
double gain_at(const std::vector<LinePiece>& lines, double w);

// What counts, and how much: in the corridor's terms where something is left to the program.
Expected<Amplitude> asked_at_steps(const SampledFir& method, const FirTask& task);

// The equal steps as samples of their own, up to half the rate; those that `between` leaves to the
// program without a gain. Refuses what made() refuses.
Expected<std::vector<FirSample>> samples_at_equal_steps(const SampledFir& method,
                                                        const FirTask& task);
// Moved to equal steps of a length: the first to the first and so on where there are as many of
// them; else as many as there are steps, gains straight between those that were.
std::vector<FirSample> on_equal_steps(const std::vector<FirSample>& samples, std::size_t length,
                                      double sample_rate_hz);

} // namespace syntonon
