// What the parts of a network do, beside the whole.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"
#include "core/study/chain.h"

#include <functional>
#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

using FilterOfStage = std::function<std::optional<Filter>(const Stage&)>;

// The stages of these ids alone, where they stand: all others are wires, a branch without any of
// them is left out, and so is a loop's way back. Nothing where none of them is there or has a
// filter.
std::optional<Filter> filter_of_parts(const Chain& chain,
                                      const std::set<std::string, std::less<>>& ids,
                                      const FilterOfStage& filter_of);

// What is switched on, with another filter in the place of one stage, at any depth. Nothing where
// that one is not there or not on, or the whole could not be composed.
std::optional<Filter> filter_with(const Chain& chain, std::string_view id, const Filter& instead,
                                  const FilterOfStage& filter_of);

struct PartCurve {
    std::string key, name; // "open_loop", "round the loop"
    Filter filter;
};

// Of a loop H = F / (1 - k F R): k F R round the open loop, F without feedback, and 1 / (1 - k F
// R), which the way back adds to it. Of two branches or more: each with its factor; of two, their
// difference. None of other forms.
std::vector<PartCurve> part_curves(const Filter& filter);

} // namespace syntonon
