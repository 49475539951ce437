// A finding as one line for logs and reports.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/goal/verdict.h"

#include <string>
#include <string_view>

namespace syntonon {

// "zenith: corridor 40–250 Hz: met, value 0.89 dB, limit 2 dB, margin 1.11 dB at 61.7 Hz"
std::string line_of(std::string_view channel, const Finding& finding);

} // namespace syntonon
