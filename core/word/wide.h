// Sums of products of words, exactly.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/word/word.h"

namespace syntonon {

// Two words of 48 bits multiplied, two to the 20th of them added up: 116 bits.
__extension__ typedef __int128 Wide;

// value / 2^places, as the rounding wishes; by a negative number of places it is multiplied.
inline Wide shifted(Wide value, int places, Rounding rounding) {
    if (places <= 0) {
        return value << -places;
    }
    const Wide floor = value >> places;
    if (rounding == Rounding::truncate) {
        return floor;
    }
    const Wide rest = value - (floor << places), half = Wide{1} << (places - 1);
    const bool up =
        rounding == Rounding::nearest ? rest >= half : rest > half || (rest == half && (floor & 1));
    return up ? floor + 1 : floor;
}

// Within so many bits of two's complement; `overflows` says whether it had not been.
inline Wide held(Wide value, int bits, Overflow overflow, bool& overflows) {
    const Wide half = Wide{1} << (bits - 1);
    if (value >= -half && value < half) {
        return value;
    }
    overflows = true;
    if (overflow == Overflow::saturate) {
        return value < 0 ? -half : half - 1;
    }
    const Wide mask = (half << 1) - 1;
    return ((value + half) & mask) - half;
}

} // namespace syntonon
