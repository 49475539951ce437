// Weights that let a filter fill its corridor evenly, found by the program.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/fir.h"

#include <functional>

namespace syntonon {

struct HugRound {
    WeightCurve weights;        // of the stage, beside its bands' or the goal's own
    double worst_margin_db = 0; // negative: outside of the corridor
    double worst_hz = 0;
    std::vector<double> taps;
};

// The spec's filter with the weights that leave the greatest worst margin, in dB, to the corridor
// of the brief's goal. Each round weighs every place by the error that the margin reached so far
// would leave there. For equiripple filters that margin only grows until it is the same at every
// extremum, which no other weights improve. For least squares the weights are also raised where the
// errors are greatest (C. L. Lawson, Contributions to the theory of linear least maximum
// approximation, 1961). `on_round` is told each round that is better than those before; a watch
// that says stop ends the search with the best.
//
// Refuses, naming the place: methods that do not weigh, lengths that follow, a goal without a
// corridor; and what the design itself refuses before any round was found.
Expected<HugRound> hug_corridor(const FirSpec& spec, const Brief& brief, const Watch& watch,
                                const std::function<void(const HugRound&)>& on_round = {});

} // namespace syntonon
