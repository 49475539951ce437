// What ways to a filter are compared by.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/goal/resolved_goal.h"
#include "core/goal/verdict.h"

#include <optional>
#include <string>

namespace syntonon {

// Of the filter alone, without other stages and measured curves.
struct WayFacts {
    int taps = 0;  // 0: it is recursive
    int order = 0; // taps - 1, or the number of poles
    // Greatest minus least deviation from the goal in its passbands (corridor ranges that are
    // closed below, requirements of ripple), and how far below 0 dB its stopbands stay (ranges that
    // are open below, requirements of attenuation): the worst of each. Infinite where a zero says
    // so.
    std::optional<double> ripple_db, attenuation_db;
    std::optional<double> worst_margin_db; // of all demands on the level
    // Of the impulse response; absent where it does not die away. Energy: sum n h^2 / sum h^2;
    // before the greatest sample, -infinity: there is none.
    std::optional<double> delay_s, pre_ringing_db;
    Cost cost;
    double design_s = 0; // what designing it once took
};

// All but the time. `goal`: what is asked of the level.
WayFacts way_facts(const Filter& filter, const Axis& axis, const ResolvedGoal& goal,
                   const Verdict& verdict);

bool is_level_met(const Verdict& verdict);
// Infinite where nothing is judged in dB.
double worst_level_margin_db(const Verdict& verdict);
// Of the level's findings the one that is missed by most, in a few words; where none is, the first
// of another kind that is not met; empty: all is met.
std::string most_missed(const Verdict& verdict);

} // namespace syntonon
