// How far positions are apart.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/curve.h"

#include <span>
#include <vector>

namespace syntonon {

struct Spread {
    std::vector<double> frequency_hz, lowest_db, highest_db;
};

// The lowest and the highest level of any of the curves at equally spaced frequencies, as far as
// all of them reach; empty where they share none.
Spread spread_of(std::span<const CurveReader* const> curves, double points_an_octave);

} // namespace syntonon
