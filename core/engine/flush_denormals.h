// Numbers too small for a double's full digits, taken as 0.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#if defined(__x86_64__)
#include <immintrin.h>
#endif

namespace syntonon {

// On this thread, as long as it lives. What a filter holds after the sound has ended shrinks for
// ever; a processor is a hundred times slower at numbers below 2.2e-308. Where the processor's way
// is not known nothing changes but the speed.
class FlushDenormals {
public:
#if defined(__x86_64__)
    FlushDenormals() : before_(_mm_getcsr()) {
        constexpr unsigned results = 0x8000, operands = 0x0040;
        _mm_setcsr(before_ | results | operands);
    }
    ~FlushDenormals() {
        _mm_setcsr(before_);
    }
#else
    FlushDenormals() = default;
#endif
    FlushDenormals(const FlushDenormals&) = delete;
    FlushDenormals& operator=(const FlushDenormals&) = delete;

private:
    [[maybe_unused]] unsigned before_ = 0;
};

} // namespace syntonon
