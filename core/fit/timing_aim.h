// What sections that mind timing aim for: see TimingAim.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/fit/correction_aim.h"

namespace syntonon {

// For an aim whose gain is known. Refused at "match": a set without phase where the goal states no
// target of it either, such a target that lies outside of the range.
Expected<TimingAim> timing_aim(const CorrectionSpec& spec, const Brief& brief,
                               const CorrectionAim& aim);

} // namespace syntonon
