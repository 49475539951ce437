// The sample rate of most tests.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace syntonon {

inline constexpr double rate = 48000;

} // namespace syntonon
