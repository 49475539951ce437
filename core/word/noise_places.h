// Where a recursive chain's spectrum is to be known so that sums over it are integrals.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/biquad.h"

#include <complex>
#include <vector>

namespace syntonon {

// Angles from 0 to pi, and what each counts for in a mean over all of them (their sum is 1).
struct SpectrumPlaces {
    std::vector<double> rad_per_sample;
    std::vector<std::complex<double>> z; // e^j angle
    std::vector<double> weight;
};

// A logarithmic and an even row, and around each pole as closely as its bell is sharp: the mean of
// |H|^2 is within 0.1 %. `even` is how many in the even row; a long FIR needs as many as it
// ripples.
SpectrumPlaces spectrum_places(const Cascade& cascade, std::size_t even = 1024);

} // namespace syntonon
