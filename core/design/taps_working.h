// What there is to be known of taps, however they came about.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/working.h"
#include "core/filter/taps.h"

namespace syntonon {

// Length, order, delay in samples and ms, symmetry and type, sums, the greatest tap, how many are
// needed down to -100 dB of it, and what comes before it.
WorkingStep step_of_taps(const Taps& taps, double sample_rate_hz);

} // namespace syntonon
