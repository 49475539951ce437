// A curve as the bins of a transform: the way from a measured response to its sound in time.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/curve.h"

#include <complex>
#include <cstddef>
#include <vector>

namespace syntonon {

// At k * rate / length for k from 0 to length / 2, interpolated over log frequency. An octave
// below the curve it falls silent; above its end there is nothing. The curve's phase must not be
// wrapped (see CurveReader).
std::vector<std::complex<double>> spectrum_of(const Curve& curve, std::size_t length,
                                              double sample_rate_hz);

// The impulse response of such bins, as many samples as the transform has. It is circular: its last
// half stands for what comes before the first sample.
std::vector<double> impulse_of(const std::vector<std::complex<double>>& bins, std::size_t length);

} // namespace syntonon
