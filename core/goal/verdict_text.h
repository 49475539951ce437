// A finding as one line for logs and reports.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/goal/verdict.h"

#include <string>
#include <string_view>

namespace syntonon {

// "zenith: corridor 40–250 Hz: met, value 0.89 dB, limit 2 dB, margin 1.11 dB at 61.7 Hz"
std::string line_of(std::string_view channel, const Finding& finding);

// What counts most in a verdict: what is missed, by most if it is in dB; else what has the least
// room in dB. Null of an empty one.
const Finding* worst_of(const Verdict& verdict);

// "0.38 dB to spare at 2.96 kHz", "1.2 dB missed at 60 Hz", "undecided".
std::string margin_text(const Finding& finding);

} // namespace syntonon
