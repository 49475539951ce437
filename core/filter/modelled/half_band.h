// Half-band filters for going up and down in rate.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/modelled/half_band_kernel.h"

#include <complex>
#include <cstddef>

namespace syntonon::modelled {

// Elliptic, with so many all-passes (1 to most_half_band_sections). It passes up to
// (1/4 - half of `transition`) of the higher rate and stops from (1/4 + half of it) on, as deep as
// that can be; what passes is flat within the square of what is left over there, since the two
// chains are complementary in power. By the closed form of Valenzuela and Constantinides (see the
// kernel), with theta functions (M. Abramowitz and I. Stegun, Handbook of Mathematical Functions,
// 16.27 and 17.3.21). `transition` between 0 and 1/2.
HalfBandCoefficients half_band(std::size_t sections, double transition);

// At so much of the higher rate.
std::complex<double> response(const HalfBandCoefficients& c, double share_of_rate);

} // namespace syntonon::modelled
