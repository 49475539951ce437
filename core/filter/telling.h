// Where to look so that no extremum is missed.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/axis.h"

#include <limits>
#include <vector>

namespace syntonon {

class Prober;

struct TellingRange {
    double low_hz = 0, high_hz = 0; // low_hz above 0
    double grid_ratio = 1.01;       // between neighbours of the logarithmic grid that is there
    Axis axis = {};
    // A part that ripples more often than this tells nothing: for drawing, where it would only be
    // a blot. Its neighbours in a series still do.
    double most_ripples = std::numeric_limits<double>::infinity();
    // Of one interval of the grid, where roots are looked for by halving (halved_until_smooth): to
    // a part of 1e8. For drawing fewer do.
    int most_halvings = 26;
};

// Whether what remembers its input for so many samples ripples too often for the range.
bool ripples_too_often(double memory_samples, const TellingRange& range);

// Equal steps, four for each ripple of what remembers its input for so many samples (a polynomial
// of that degree has no more extrema between 0 Hz and half the rate). Only where the logarithmic
// grid is coarser.
void add_ripple_hz(double memory_samples, const TellingRange& range, std::vector<double>& out);

// For a filter whose roots are not known by themselves: the range's logarithmic grid and `seeds`,
// halved until H between neighbours is what their values and derivatives say (cubic Hermite
// interpolation, Davis, Interpolation and Approximation, 1963, section 2.5) and differs by less
// than its size, so that its logarithm is smooth, too.
std::vector<double> halved_until_smooth(const Prober& prober, std::vector<double> seeds,
                                        const TellingRange& range);

} // namespace syntonon
