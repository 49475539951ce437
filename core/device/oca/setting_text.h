// Settings in words.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/device/oca/settings.h"

#include <string>

namespace syntonon::oca {

// "peak at 1 kHz, -3 dB, Q 1.4"; "512 taps".
std::string text_of(const Setting& setting);
// With ", off" behind it where the object is not enabled.
std::string text_of(const Setting& setting, bool is_enabled);

} // namespace syntonon::oca
