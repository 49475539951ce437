// What kinds of stage that hold chains have in common.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

namespace syntonon {

// How the chains of one stage lie to one another.
enum class ChainsLayout {
    side_by_side, // parallel branches
    around,       // the first runs down, the second back up to where it began
    bracket       // one, in a bracket
};

// Chains within chains, at most.
inline constexpr int deepest_chain = 16;

// A number as people write it, with a minus sign instead of a hyphen: "−0.62".
std::string short_number(double value);

} // namespace syntonon
