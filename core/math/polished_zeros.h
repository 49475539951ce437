// Zeros of a polynomial that are known roughly, in as many digits as they need.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <complex>
#include <functional>
#include <span>
#include <vector>

namespace syntonon {

// Aberth's steps (see roots_at_once.h) from `near`, all zeros of the real coefficients `c`, highest
// power first, conjugates adjacent; in more and more digits, until they are enough. What a multiple
// zero keeps trembling stays: it is for the caller to put together. Ends early when stopped.
std::vector<std::complex<double>> polished_zeros(std::span<const double> c,
                                                 std::vector<std::complex<double>> near,
                                                 const std::function<bool()>& is_stopped);

} // namespace syntonon
