// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/voice_bank.h"

#include "core/engine/wide_voice_bank.h"
#include "core/filter/modelled/ladder_filter_kernel.h"
#include "core/filter/modelled/state_variable_filter_kernel.h"

namespace {
#include "core/engine/voice_bank_code.h"
} // namespace

namespace syntonon {

VoiceBank::~VoiceBank() = default;

bool has_wide_banks() {
#if defined(SYNTONON_WIDE_BANKS)
    static const bool has = __builtin_cpu_supports("avx2") != 0;
    return has;
#else
    return false;
#endif
}

std::unique_ptr<VoiceBank> bank_of(const FilterModel& model, double sample_rate_hz, BankCode code) {
#if defined(SYNTONON_WIDE_BANKS)
    if (code != BankCode::plain && has_wide_banks()) {
        return wide_bank(model, sample_rate_hz);
    }
#endif
    return made_bank(model, sample_rate_hz);
}

} // namespace syntonon
