// What a filter costs per sample on a processor.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstdint>

namespace syntonon {

struct Cost {
    int sections = 0;
    int multiplies = 0;           // per sample
    int adds = 0;                 // per sample
    std::int64_t state_words = 0; // an hour's delay is more than an int holds
    int taps = 0;                 // of FIR filters

    bool operator==(const Cost&) const = default;
    Cost& operator+=(const Cost& other) {
        sections += other.sections;
        taps += other.taps;
        multiplies += other.multiplies;
        adds += other.adds;
        state_words += other.state_words;
        return *this;
    }
};

} // namespace syntonon
