// Where a sweep turns unstable.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/chain.h"
#include "core/study/design_store.h"
#include "core/study/knob.h"

#include <functional>
#include <optional>
#include <string_view>
#include <vector>

namespace syntonon {

// How far from unstable at a value: positive where it is stable, only its sign counting where
// nothing more is known; nothing where there is no filter.
using MarginAt = std::function<std::optional<double>(double value)>;

struct StabilityEdge {
    double value = 0;          // to 1e-9 of itself
    bool stable_below = false; // else above
};

// Looks at 65 places, evenly or by ratio, and where the margin dips between them; then halves.
std::vector<StabilityEdge> stability_edges(const MarginAt& margin, const KnobRange& range,
                                           bool by_ratio);

// Of the stage at the top of the chain that holds the one with the knob. What takes long to design
// has no margin.
MarginAt margin_of_knob(const Chain& chain, std::string_view stage, std::string_view key,
                        const Brief& brief);

} // namespace syntonon
