// From one setting of an object to another in small steps.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/device/oca/settings.h"

#include <vector>

namespace syntonon::oca {

// `steps` settings, the last one being `to`. Levels go in dB, frequencies and widths in ratios,
// taps and sections up to second order number by number: the stable denominators of that order form
// a triangle in (a1, a2), so that all between two stable ones are stable (E. I. Jury, Theory and
// Application of the z-Transform Method, 1964, chapter 3). A bell or shelf
// that was off begins where it is to be, without gain. What cannot be gone through (another form, a
// delay, higher orders) is `to` at once.
std::vector<Setting> ramp_between(const Setting& from, const Setting& to, int steps);

} // namespace syntonon::oca
