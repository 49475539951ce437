// What a modelled filter makes of sines of different strength, and where its poles go.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/modelled_filter.h"
#include "core/design/watch.h"

#include <complex>
#include <span>
#include <vector>

namespace syntonon {

// The level of the fundamental over that of a sine of that peak that goes in (full scale is 1), in
// dB by frequency, of the analog model by describing functions (modelled/ladder.h); of a
// state-variable filter that of its saturating input. NaN where no answer is found or the watch was
// stopped.
std::vector<double> driven_level_db(const FilterModel& model, double peak,
                                    std::span<const double> hz, const Watch& watch = {});

struct PolesAtResonance {
    double resonance = 0;
    std::vector<std::complex<double>> poles; // of the analog model, in units of the set frequency
};
// From none on, ascending, in equal steps; ladders to 1.2 times the limit, others up to 1.
std::vector<PolesAtResonance> poles_by_resonance(const FilterModel& model, std::size_t count);

} // namespace syntonon
