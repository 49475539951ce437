// Eight voices of a modelled filter at work at a time, each with states of its own. Where the
// processor has AVX2 they are computed four at a time, with AVX-512 all together; every voice's
// numbers are to the last bit those that it would have alone (see filter/modelled).
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/modelled_filter.h"

#include <array>
#include <cstddef>
#include <memory>

namespace syntonon {

class VoiceBank {
public:
    static constexpr std::size_t voices = 8;
    using Row = std::array<double, voices>; // a sample of each

    VoiceBank() = default;
    virtual ~VoiceBank();
    VoiceBank(const VoiceBank&) = delete;
    VoiceBank& operator=(const VoiceBank&) = delete;

    // Of each voice; coefficients are worked out only where one is another. All else is the
    // model's.
    virtual void set_frequencies(const Row& hz) noexcept = 0;
    virtual void reset(std::size_t voice) noexcept = 0; // to rest
    // `count` samples of each, in place. Allocates nothing.
    virtual void process(Row* rows, std::size_t count) noexcept = 0;
};

// Wide: AVX2; widest: AVX-512; fitting: the widest that the processor has.
enum class BankCode { fitting, plain, wide, widest };
bool has_banks(BankCode code); // in this program and on this processor
// All voices at rest, with the model's knobs. Where there is no such code, with less wide ones.
std::unique_ptr<VoiceBank> bank_of(const FilterModel& model, double sample_rate_hz,
                                   BankCode code = BankCode::fitting);

} // namespace syntonon
