// Where the error of an exchange alternates: places to begin with.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/fir/amplitude.h"

#include <cstddef>
#include <vector>

namespace syntonon {

// A place with what is asked for there; two pieces that touch have both their own.
struct ExchangePlace {
    double w = 0;
    std::size_t piece = 0;
};

// Pieces that touch are one band.
struct ExchangeBand {
    std::size_t first_piece, last_piece;
    double from, to;
};
std::vector<ExchangeBand> exchange_bands(const Amplitude& wanted);

// `count` places by the bands' widths; the ends among them.
std::vector<ExchangePlace> evenly_spread(const Amplitude& wanted, std::size_t count);

// The reference of a shorter filter, drawn out in each band to `count` places.
std::vector<ExchangePlace> drawn_out(const Amplitude& wanted,
                                     const std::vector<ExchangePlace>& shorter, std::size_t count);

} // namespace syntonon
