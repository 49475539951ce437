// The parameter of a window by its highest side lobe.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/math/window.h"

#include <cstddef>
#include <optional>

namespace syntonon {

// Looked for by halving between the parameters of the lowest and the highest side lobes that the
// shape has: of a window of that length, or of 257 taps where that is more, since it changes little
// from there on. The nearest where no parameter comes to `level_db` (negative); to 0.01 dB else.
// Nothing for shapes without a parameter, and for fewer than 8 taps.
std::optional<double> parameter_by_side_lobe(WindowShape shape, double level_db,
                                             std::size_t length);

} // namespace syntonon
