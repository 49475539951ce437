// What a goal asks for beyond what a sample rate can hold.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/goal/goal.h"

#include <vector>

namespace syntonon {

// Frequencies of corridor ranges and requirements above half the sample rate; nothing can be said
// about them. The place is "corridor[1].to_hz" or "requirements[0].at_hz".
std::vector<Problem> beyond_nyquist(const Goal& goal, double sample_rate_hz);

} // namespace syntonon
