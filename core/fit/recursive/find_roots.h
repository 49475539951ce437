// Poles and zeros for a response, wherever they may lie.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/fit/recursive/joint_roots.h"

#include <functional>

namespace syntonon {

struct RootsWanted {
    int poles = 8, zeros = 8;
    double greatest_q = 100;     // of a pole
    bool least_greatest = false; // of the errors; else of their squares
};

using RootsSoFar = std::function<void(const RootFactors&)>;

// A start by vector_fit, then all numbers together; then some pairs are shaken out of where they
// came to rest, and last, where that is wanted, the greatest error is made small by errors to ever
// higher powers. Without a phase in the aim the response is that of minimum phase, no zero outside
// of the circle. The same aim gives the same roots. Reports to the watch how far it has come; when
// that says stop, the best so far counts. `so_far` hears of what is worth showing.
RootFactors find_roots(const ResponseAim& aim, double sample_rate_hz, const RootsWanted& wanted,
                       const Watch& watch, const RootsSoFar& so_far = {});

} // namespace syntonon
