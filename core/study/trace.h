// Responses and levels as they are drawn: along frequencies that tell more than an even grid.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/curve/curve.h"
#include "core/filter/filter.h"
#include "core/filter/grid.h"
#include "core/filter/ripple_band.h"

#include <cstddef>
#include <vector>

namespace syntonon {

// A response along frequencies that need not be a grid's.
struct Trace {
    std::vector<double> frequency_hz;
    Response response;
    // Where the filter ripples more often than there are points, so that the response at the points
    // says little: what lies between. Empty for most filters.
    RippleBand band;
};

// The level of the measured response times the chain, where it is known.
struct LevelTrace {
    std::vector<double> frequency_hz;
    std::vector<double> level_db;
    std::vector<double> band_hz; // see Trace
    LeastAndMost band_db;
};

// A chain whose response on a grid is known, with the points between that tell more.
Trace trace_of(const Filter& chain, const Response& on_grid, const FrequencyGrid& grid);
// A chain between two frequencies in as many points as are asked for, for a closer look than the
// drawing grid gives: equal ratios, or equal steps when `linear`. Empty for an empty range.
Trace detail_of(const Filter& chain, double low_hz, double high_hz, std::size_t points, bool linear,
                const Axis& axis);
// The level of the measured response (null: none) times a chain that was traced.
LevelTrace prediction_of(const Trace& total, const CurveReader* measured);

} // namespace syntonon
