// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/resolved_goal.h"

#include "core/base/number_text.h"
#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <limits>

namespace syntonon {
namespace {

Expected<TargetCurve> without_the_study(const Target& target) {
    if (target.source) {
        return refuse("target.source", "the target follows something else in a study",
                      "judge it there");
    }
    if (target.anchor.kind != LevelAnchor::Kind::fixed) {
        return refuse("target.anchor", "the target's level follows a measurement in a study",
                      "judge it there");
    }
    return TargetCurve(target.house ? line_of(*target.house) : TargetLine(target),
                       target.anchor.offset_db);
}

// A demand that keeps a quantity within limits over a range.
struct Demand {
    std::string place, title;
    double from_hz, to_hz;
    std::function<std::optional<LevelBand>(double hz)> band;
};

std::optional<Demand> level_demand(const RequirementSpec& spec, LevelOf level_of) {
    const auto* peak = std::get_if<PeakGainRequirement>(&spec);
    if (peak != nullptr && level_of == LevelOf::chain_alone) {
        return Demand{"", "", 0, infinity, [high = peak->max_db](double) {
                          return std::optional(LevelBand{-infinity, high});
                      }};
    }
    if (const auto* r = std::get_if<AttenuationRequirement>(&spec)) {
        return Demand{"", "", r->from_hz, r->to_hz, [high = -r->min_db](double) {
                          return std::optional(LevelBand{-infinity, high});
                      }};
    }
    if (const auto* r = std::get_if<LevelRequirement>(&spec)) {
        const LevelBand band{r->min_db.value_or(-infinity), r->max_db.value_or(infinity)};
        return Demand{"", "", r->at_hz, r->at_hz, [band](double) { return std::optional(band); }};
    }
    return std::nullopt;
}

std::optional<Demand> delay_demand(const RequirementSpec& spec, const ResolvedGoal& goal,
                                   double sample_rate_hz) {
    const auto* r = std::get_if<GroupDelayRequirement>(&spec);
    if (r == nullptr) {
        return std::nullopt;
    }
    const double tolerance = samples_of(r->tolerance, sample_rate_hz);
    const auto centre = [value = r->value, target = goal.group_delay_ms,
                         sample_rate_hz](double hz) -> std::optional<double> {
        if (value) {
            return samples_of(*value, sample_rate_hz);
        }
        const auto ms = target ? target->value_at(hz) : std::nullopt;
        return ms ? std::optional(samples_of({*ms, TimeUnit::ms}, sample_rate_hz)) : std::nullopt;
    };
    return Demand{
        "", "", r->from_hz, r->to_hz, [=](double hz) -> std::optional<LevelBand> {
            const auto at = centre(hz);
            return at ? std::optional(LevelBand{*at - tolerance, *at + tolerance}) : std::nullopt;
        }};
}

// The band may lie anywhere around the circle.
std::optional<Demand> phase_demand(const RequirementSpec& spec, const ResolvedGoal& goal) {
    const auto* r = std::get_if<PhaseRequirement>(&spec);
    if (r == nullptr) {
        return std::nullopt;
    }
    return Demand{
        "", "", r->from_hz, r->to_hz,
        [value = r->value_deg, target = goal.phase_deg,
         tolerance = r->tolerance_deg](double hz) -> std::optional<LevelBand> {
            const auto at = value ? value : target ? target->value_at(hz) : std::nullopt;
            return at ? std::optional(LevelBand{*at - tolerance, *at + tolerance}) : std::nullopt;
        }};
}

using Exclude = bool (*)(const LevelBand&, const LevelBand&);

bool bands_exclude(const LevelBand& a, const LevelBand& b) {
    return std::max(a.lower_db, b.lower_db) > std::min(a.upper_db, b.upper_db);
}

bool arcs_exclude(const LevelBand& a, const LevelBand& b) {
    const double between =
        wrapped_deg((a.lower_db + a.upper_db) / 2 - (b.lower_db + b.upper_db) / 2);
    return std::abs(between) > (a.upper_db - a.lower_db) / 2 + (b.upper_db - b.lower_db) / 2;
}

// Frequencies at which two demands have to be compared: both are straight between them.
std::vector<double> telling(const Demand& a, const Demand& b, const ResolvedGoal& goal) {
    const double low = std::max(a.from_hz, b.from_hz), high = std::min(a.to_hz, b.to_hz);
    std::vector<double> hz{low, high, std::sqrt(std::max(low, 1e-3) * std::max(high, 1e-3))};
    const auto add = [&](const TargetCurve& curve) {
        for (const TargetCurve::Part& part : curve.parts(low, high)) {
            hz.insert(hz.end(), part.corners_hz.begin(), part.corners_hz.end());
            hz.push_back(part.from_hz);
            hz.push_back(part.to_hz);
        }
    };
    if (goal.level) {
        add(*goal.level);
    }
    for (const auto* target : {&goal.group_delay_ms, &goal.phase_deg}) {
        if (*target) {
            add(**target);
        }
    }
    std::erase_if(hz, [&](double f) { return f < low || f > high; });
    return hz;
}

std::optional<double> where_they_exclude(const Demand& a, const Demand& b, const ResolvedGoal& goal,
                                         Exclude exclude) {
    if (std::max(a.from_hz, b.from_hz) > std::min(a.to_hz, b.to_hz)) {
        return std::nullopt;
    }
    for (const double hz : telling(a, b, goal)) {
        const auto one = a.band(hz), other = b.band(hz);
        if (one && other && exclude(*one, *other)) {
            return hz;
        }
    }
    return std::nullopt;
}

void compare(const std::vector<Demand>& demands, const ResolvedGoal& goal, Exclude exclude,
             std::vector<Contradiction>& found) {
    for (std::size_t i = 0; i < demands.size(); ++i) {
        for (std::size_t k = 0; k < i; ++k) {
            if (const auto hz = where_they_exclude(demands[k], demands[i], goal, exclude)) {
                found.push_back(
                    {{demands[i].place,
                      fmt::format("cannot be met together with {} ({}) at {}", demands[k].title,
                                  demands[k].place, frequency_text(*hz)),
                      "change one of the two"},
                     demands[k].place});
            }
        }
    }
}

std::vector<Contradiction> contradictions_in(const ResolvedGoal& goal, double sample_rate_hz,
                                             LevelOf level_of) {
    std::vector<Demand> levels, delays, phases;
    for (std::size_t i = 0; i < goal.goal->corridor.size(); ++i) {
        const CorridorRange& range = goal.goal->corridor[i];
        levels.push_back({fmt::format("corridor[{}]", i),
                          "corridor " + range_text(range.from_hz, range.to_hz), range.from_hz,
                          range.to_hz,
                          [&range, &goal](double hz) { return band_at(range, goal, hz); }});
    }
    for (std::size_t i = 0; i < goal.goal->requirements.size(); ++i) {
        const Requirement& requirement = goal.goal->requirements[i];
        if (!check(requirement)) {
            continue; // says so itself
        }
        const auto add = [&](std::optional<Demand> demand, std::vector<Demand>& to) {
            if (demand) {
                demand->place = fmt::format("requirements[{}]", i);
                demand->title = title_of(requirement);
                to.push_back(std::move(*demand));
            }
        };
        add(level_demand(requirement.spec, level_of), levels);
        add(delay_demand(requirement.spec, goal, sample_rate_hz), delays);
        add(phase_demand(requirement.spec, goal), phases);
    }
    std::vector<Contradiction> found;
    compare(levels, goal, bands_exclude, found);
    compare(delays, goal, bands_exclude, found);
    compare(phases, goal, arcs_exclude, found);
    return found;
}

} // namespace

Problem no_target() {
    return {"", "the range is held against the target, but the goal has none",
            "state a target or make the range absolute"};
}

ResolvedGoal resolved(const Goal& goal, double sample_rate_hz, LevelOf level_of) {
    return resolved(goal, without_the_study(goal.target), sample_rate_hz, level_of);
}

ResolvedGoal resolved(const Goal& goal, Expected<TargetCurve> level, double sample_rate_hz,
                      LevelOf level_of) {
    ResolvedGoal all{std::make_shared<const Goal>(goal), std::move(level), {}, {}, {}};
    if (goal.phase_target) {
        all.phase_deg = TargetCurve(*goal.phase_target);
    }
    if (goal.delay_target) {
        all.group_delay_ms = TargetCurve(*goal.delay_target);
    }
    all.contradictions = contradictions_in(all, sample_rate_hz, level_of);
    return all;
}

std::optional<LevelBand> band_at(const CorridorRange& range, const ResolvedGoal& goal, double hz) {
    const bool has_target = goal.level && is_stated(goal.goal->target);
    const auto target = range.absolute ? std::optional(0.0)
                        : has_target   ? goal.level->value_at(hz)
                                       : std::nullopt;
    if (!target) {
        return std::nullopt;
    }
    return LevelBand{*target - below_db_at(range, hz).value_or(infinity),
                     *target + above_db_at(range, hz).value_or(infinity)};
}

} // namespace syntonon
