// The zeros that taps with linear phase have on the unit circle, and magnitudes freed of them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <span>
#include <vector>

namespace syntonon {

// Frequencies of single zeros, ascending, 0 to pi in rad/sample; those between stand for a pair.
// Found by the changes of sign of the amplitude at w = 2 pi k / fft_length and pinned down by
// halving. Taps that are neither symmetric nor antisymmetric: none. Zeros that lie two between
// neighbouring places are not seen.
std::vector<double> circle_zeros(std::span<const double> taps, std::size_t fft_length);

// The logarithm of a magnitude at w = 2 pi k / L, k = 0 .. L/2, less that of the product of |1 -
// e^(j(zero - w))| over its zeros on the circle: smooth where they are all that makes it not so.
// Each zero's logarithm is split into a part that is smooth at the scale of the places, summed by a
// transform of Gaussians, and one that is felt nearby only (P. P. Ewald, 1921, for the logarithm).
std::vector<double> log_without_zeros(std::span<const double> magnitude,
                                      std::span<const double> zeros_w);

} // namespace syntonon
