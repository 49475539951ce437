// A goal with its targets worked out: what is judged against and drawn.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/goal/goal.h"
#include "core/goal/target_curve.h"

#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace syntonon {

// Pairs of demands that no channel can meet together: levels that exclude each other at some
// frequency, delay or phase bands that do, a level above the greatest gain. Each names both places
// and the frequency; the problem's place is the later of the two, "requirements[3]".
struct Contradiction {
    Problem problem;
    std::string first_place;
};

struct ResolvedGoal {
    std::shared_ptr<const Goal> goal; // never null
    // Why there is no target: a curve that is gone, an anchor without a measurement.
    Expected<TargetCurve> level;
    std::optional<TargetCurve> phase_deg, group_delay_ms;
    std::vector<Contradiction> contradictions;
};

// Why a corridor range that is not absolute cannot be judged in a goal that states no target; the
// place is empty.
Problem no_target();

// What a level is the level of: with the chain alone, none can be above the chain's greatest gain.
enum class LevelOf { measured_and_chain, chain_alone };

// `level` is the target curve; without one it is worked out from points or the house curve, a fixed
// anchor included. A target that needs the study (a source, another anchor) is then refused.
ResolvedGoal resolved(const Goal& goal, double sample_rate_hz,
                      LevelOf level_of = LevelOf::measured_and_chain);
ResolvedGoal resolved(const Goal& goal, Expected<TargetCurve> level, double sample_rate_hz,
                      LevelOf level_of = LevelOf::measured_and_chain);

// The levels between which a corridor range keeps the curve at a frequency; nothing where the
// target has a gap or cannot be worked out.
struct LevelBand {
    double lower_db, upper_db; // infinite where open
};
std::optional<LevelBand> band_at(const CorridorRange& range, const ResolvedGoal& goal, double hz);

} // namespace syntonon
