// A parametric section's filter in one call.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/parametric.h"
#include "tests/support/rate.h"

#include <cmath>

namespace syntonon {

inline Filter section(ParametricShape shape, double hz, double gain_db = 0,
                      double q = std::sqrt(0.5), int order = 2) {
    return parametric_filter(parametric(shape, hz, gain_db, q, order), rate).value();
}

} // namespace syntonon
