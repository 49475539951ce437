// The stages above as one FIR.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/fir/method.h"
#include "core/math/window.h"

namespace syntonon {

struct FromChainFir {
    static constexpr std::string_view key = "from_chain", title = "From the chain";

    // Over the end of what is cut off: its second half.
    Window window{WindowShape::tukey, 0.1, {}};

    bool operator==(const FromChainFir&) const = default;
};

inline constexpr std::size_t most_from_chain = 1 << 18;

// An odd length that suits the chain: its impulse response up to where it stays 100 dB under its
// greatest value; for linear phase as much before it, too. At most 65535.
std::size_t length_for_chain(const Filter& chain, bool linear_phase);

// The chain's own impulse response, cut off at the length, with its error; other phases are made of
// its magnitude (phase_form.h), which then is sampled at many times the length.
Expected<FirMade> made(const FromChainFir& method, const FirTask& task);
// As linear, minimum or maximum phase: share 1/2, 0, 1.
Expected<FirMade> made_of_magnitude(const FirTask& task, double share);

} // namespace syntonon
