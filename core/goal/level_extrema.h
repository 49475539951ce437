// The peaks and dips of a filter's level, each found between the points too.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"

#include <cstddef>
#include <vector>

namespace syntonon {

struct LevelExtremum {
    double hz = 0;
    double level_db = 0; // -infinity at a zero on the circle
    bool is_peak = false;
};

// Where to look, and what counts.
struct ExtremaSearch {
    double low_hz = 0, high_hz = 0; // 0 < low < high <= the axis' end
    Axis axis = {};
    double least_step_db = 0.1; // what rises and falls by less from its neighbours is no extremum
    std::size_t most = 512;
};

struct LevelExtrema {
    std::vector<LevelExtremum> found; // ascending; the ends of the range are none
    bool is_complete = true;          // false: beyond the last there are more
};

// Between the filter's telling frequencies there is at most one; each is refined by golden-section
// search (see greatest()).
LevelExtrema level_extrema(const Filter& filter, const ExtremaSearch& search);

} // namespace syntonon
