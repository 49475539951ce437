// A whole signal through a filter.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/design/watch.h"

#include <cstddef>
#include <optional>
#include <span>
#include <vector>

namespace syntonon {

class Filter;

struct Rendered {
    std::vector<double> out; // of the signal's length
    // What comes afterwards while the signal stays at its last value, until nothing changes any
    // more.
    std::vector<double> tail;
    // Where an unstable filter's output left all bounds: `out` ends there.
    std::optional<std::size_t> runs_away_at;
};

// From rest. `most_tail` samples of tail at most: 0, none is worked out. Refused for an analog
// filter, and when the watch is stopped.
Expected<Rendered> render(const Filter& filter, std::span<const double> signal,
                          std::size_t most_tail, const Watch& watch = {});

// How long until the filter has forgotten its input: its slowest pole has fallen by fall_db. No
// more than `most`, which it is, too, where that cannot be known.
std::size_t memory_samples(const Filter& filter, double fall_db, std::size_t most);

} // namespace syntonon
