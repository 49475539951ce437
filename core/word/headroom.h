// How large the signals inside become, and what is left until their words overflow.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/word/word_chain.h"

#include <string_view>
#include <vector>

namespace syntonon {

// The response from the chain's input (full scale 1) to a place inside, in three norms (L. B.
// Jackson, On the interaction of roundoff noise and dynamic range in digital filters, Bell Syst.
// Tech. J. 49, 1970).
struct NodeLevel {
    std::size_t section = 0; // counted from 0; the number of sections: the FIR
    std::string_view sum;    // of the network; "out" for the data's word after the section
    double most = 0;  // L1: the sum of its impulse response's magnitudes: no input goes beyond
    double tone = 0;  // L-infinity: its greatest gain: no sine does
    double noise = 0; // L2: root of its energy: white noise grows by that
    double holds = 1; // the greatest value of its word

    // What is left in dB until that input overflows it; infinite for floats.
    double room_for_any_db() const;
    double room_for_tone_db() const;
    double room_for_noise_db() const; // its rms
};

// Of every sum of every section, and of what leaves it. Refused for a chain that is not stable.
Expected<std::vector<NodeLevel>> node_levels(const WordChain& chain);

// The tightest of them for a sine; null when there are none.
const NodeLevel* tightest(const std::vector<NodeLevel>& levels);

} // namespace syntonon
