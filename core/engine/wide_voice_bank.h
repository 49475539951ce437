// See voice_bank.h: the part that is compiled for processors with AVX2.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/engine/voice_bank.h"

namespace syntonon {

// Only where the processor has AVX2.
std::unique_ptr<VoiceBank> wide_bank(const FilterModel& model, double sample_rate_hz);

} // namespace syntonon
