// What the kinds of modelled filters have in common: frequency, oversampling, and what is said of
// both.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/design/working.h"
#include "core/filter/axis.h"

#include <cstddef>

namespace syntonon {

inline constexpr double most_modelled_drive_db = 60;

// Refuses, naming the field, a frequency that is not below half the rate, an oversampling other
// than 1, 2, 4 and 8.
Expected<void> check_modelled(double frequency_hz, int oversampling, const Axis& axis);
std::size_t doublings_of(int oversampling); // 1, 2, 4, 8: 0 to 3

// The rate at which it is computed, what its integrators are set by, and how far off it would be
// without prewarping (g is the angle then, and not its tangent).
WorkingStep integrator_step(double frequency_hz, double g, bool is_prewarped, int oversampling,
                            const Axis& axis);

} // namespace syntonon
