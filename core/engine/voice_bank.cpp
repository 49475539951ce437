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

bool has_banks(BankCode code) {
#if defined(SYNTONON_WIDE_BANKS)
    static const bool wide = __builtin_cpu_supports("avx2") != 0;
    static const bool widest = __builtin_cpu_supports("avx512f") != 0
                               && __builtin_cpu_supports("avx512dq") != 0
                               && __builtin_cpu_supports("avx512vl") != 0;
    return (code != BankCode::wide || wide) && (code != BankCode::widest || widest);
#else
    return code == BankCode::fitting || code == BankCode::plain;
#endif
}

std::unique_ptr<VoiceBank> bank_of(const FilterModel& model, double sample_rate_hz, BankCode code) {
#if defined(SYNTONON_WIDE_BANKS)
    const bool takes_any = code == BankCode::fitting;
    if ((takes_any || code == BankCode::widest) && has_banks(BankCode::widest)) {
        return widest_bank(model, sample_rate_hz);
    }
    if (code != BankCode::plain && has_banks(BankCode::wide)) {
        return wide_bank(model, sample_rate_hz);
    }
#endif
    return made_bank(model, sample_rate_hz);
}

} // namespace syntonon
