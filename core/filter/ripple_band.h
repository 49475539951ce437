// Between which values a filter runs where it ripples more often than a drawing has columns.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"
#include "core/filter/grid.h"

#include <vector>

namespace syntonon {

struct LeastAndMost {
    std::vector<double> least, most;
};

// One entry a column, at its middle. Level in dB, phase wrapped to +-pi; delay in samples.
struct RippleBand {
    std::vector<double> frequency_hz;
    LeastAndMost magnitude_db, phase_rad, group_delay_samples;

    bool empty() const { return frequency_hz.empty(); }
};

// From where on a column of the spacing holds half a ripple of the filter, or more: a curve drawn
// through points of the spacing would show ripples that are not there. The spacing's end for most
// filters.
double rippling_from_hz(const Filter& filter, const EvenSpacing& spacing, double sample_rate_hz);

// What lies in each column from there on. Looked for at many places in each, spread by the golden
// section, and from the three highest and lowest of them on to where the level turns.
// Of one delay all peaks and dips are reached, however narrow; of several that do not keep step the
// very highest may be missed by a decibel.
RippleBand ripple_band(const Filter& filter, const EvenSpacing& spacing, double sample_rate_hz);

// For drawing: columns that are a run from where the one before ends to where the next begins hold
// no ripple, and drawn as a band a slope would be two curves. They are narrowed to their middle.
RippleBand without_runs(RippleBand band);

} // namespace syntonon
