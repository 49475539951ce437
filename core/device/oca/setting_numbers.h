// The numbers of a setting: held against limits, and against another one's.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/device/oca/settings.h"

namespace syntonon::oca {

// Refused by what of the setting the object cannot take: "frequency_hz", "24000 Hz is beyond 20 to
// 20000 Hz". Also what is no finite number.
Expected<void> check_within(const Setting& setting, const Limits& limits);

// Whether all its numbers are finite.
bool is_finite(const Setting& setting);

// The greatest difference of any number of two of one kind, relative to the number where that is
// above 1; infinite where other than numbers differ, or how many they are.
double difference(const Setting& a, const Setting& b);

} // namespace syntonon::oca
