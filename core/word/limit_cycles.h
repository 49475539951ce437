// Sections that do not come to rest when the input is silent.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/design/watch.h"
#include "core/word/word_chain.h"

#include <cstdint>
#include <optional>
#include <vector>

namespace syntonon {

struct LimitCycle {
    double peak = 0;         // of the section's output, full scale being 1
    std::int64_t period = 0; // samples; 1: it stays at one value
    // Larger than its own rounding can explain: states ran over, and the output keeps jumping from
    // end to end (P. M. Ebert, J. E. Mazo and M. G. Taylor, Overflow oscillations in digital
    // filters, Bell Syst. Tech. J. 48, 1969).
    bool by_overflow = false;
};

// The loudest cycle of each section that was found, or nothing: a search from many states, small
// and large, not a proof (L. B. Jackson, An analysis of limit cycles due to multiplication rounding
// in recursive digital (sub)filters, Proc. 7th Allerton Conf., 1969, says how large they can be).
// Sections are looked at one by one with no input. Floats have none but of denormals: no section
// then. Refused when the watch is stopped.
struct LimitCycleSearch {
    std::vector<std::optional<LimitCycle>> of_sections;
    std::int64_t tried = 0;     // states begun from
    std::int64_t undecided = 0; // that had neither come to rest nor to a cycle in time
};
Expected<LimitCycleSearch> find_limit_cycles(const WordChain& chain, const Watch& watch = {});

} // namespace syntonon
