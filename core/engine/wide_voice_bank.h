// See voice_bank.h: the parts that are compiled for processors with AVX2 and with AVX-512.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/engine/voice_bank.h"

namespace syntonon {

// Only where the processor has it.
std::unique_ptr<VoiceBank> wide_bank(const FilterModel& model, double sample_rate_hz);
std::unique_ptr<VoiceBank> widest_bank(const FilterModel& model, double sample_rate_hz);

} // namespace syntonon
