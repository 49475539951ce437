// How late most of what a filter lets through comes.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"

namespace syntonon {

// In samples: of taps the place of the greatest (of equals the first), of filters in a row the sum,
// of all others their latency. A linear-phase FIR has no latency, and still costs half its length.
double main_delay_samples(const Filter& filter);

} // namespace syntonon
