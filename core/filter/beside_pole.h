// A denominator on its pole.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/math/complex_parts.h"

#include <complex>

namespace syntonon {

// On a pole, as far as rounding lets that be told, a response has no bounds: it is taken as large
// as can be told, with the phase of just above. `slope`: of the denominator, by rad/sample.
inline std::complex<double> beside_pole(const std::complex<double>& slope, double floor) {
    const double steep = size_of(slope);
    return steep > 0 ? slope * (floor / steep) : floor;
}

} // namespace syntonon
