// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/worked_goal.h"

#include "core/base/number_text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <limits>

namespace syntonon {
namespace {

constexpr double infinity = std::numeric_limits<double>::infinity();

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

std::optional<Demand> level_demand(const RequirementSpec& spec) {
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

std::optional<Demand> delay_demand(const RequirementSpec& spec, const WorkedGoal& goal,
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

// Frequencies at which two demands have to be compared: both are straight between them.
std::vector<double> telling(const Demand& a, const Demand& b, const WorkedGoal& goal) {
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
    if (goal.group_delay_ms) {
        add(*goal.group_delay_ms);
    }
    std::erase_if(hz, [&](double f) { return f < low || f > high; });
    return hz;
}

std::optional<double> where_they_exclude(const Demand& a, const Demand& b, const WorkedGoal& goal) {
    if (std::max(a.from_hz, b.from_hz) > std::min(a.to_hz, b.to_hz)) {
        return std::nullopt;
    }
    for (const double hz : telling(a, b, goal)) {
        const auto one = a.band(hz), other = b.band(hz);
        if (one && other
            && std::max(one->lower_db, other->lower_db)
                   > std::min(one->upper_db, other->upper_db)) {
            return hz;
        }
    }
    return std::nullopt;
}

void compare(const std::vector<Demand>& demands, const WorkedGoal& goal,
             std::vector<Contradiction>& found) {
    for (std::size_t i = 0; i < demands.size(); ++i) {
        for (std::size_t k = 0; k < i; ++k) {
            if (const auto hz = where_they_exclude(demands[k], demands[i], goal)) {
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

std::vector<Contradiction> contradictions_in(const WorkedGoal& goal, double sample_rate_hz) {
    std::vector<Demand> levels, delays;
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
        add(level_demand(requirement.spec), levels);
        add(delay_demand(requirement.spec, goal, sample_rate_hz), delays);
    }
    std::vector<Contradiction> found;
    compare(levels, goal, found);
    compare(delays, goal, found);
    return found;
}

} // namespace

WorkedGoal worked(const Goal& goal, double sample_rate_hz) {
    return worked(goal, without_the_study(goal.target), sample_rate_hz);
}

WorkedGoal worked(const Goal& goal, Expected<TargetCurve> level, double sample_rate_hz) {
    WorkedGoal all{std::make_shared<const Goal>(goal), std::move(level), {}, {}, {}};
    if (goal.phase_target) {
        all.phase_deg = TargetCurve(*goal.phase_target);
    }
    if (goal.delay_target) {
        all.group_delay_ms = TargetCurve(*goal.delay_target);
    }
    all.contradictions = contradictions_in(all, sample_rate_hz);
    return all;
}

std::optional<LevelBand> band_at(const CorridorRange& range, const WorkedGoal& goal, double hz) {
    const auto target = range.absolute ? std::optional(0.0)
                        : goal.level   ? goal.level->value_at(hz)
                                       : std::nullopt;
    if (!target) {
        return std::nullopt;
    }
    return LevelBand{*target - range.below_db.value_or(infinity),
                     *target + range.above_db.value_or(infinity)};
}

} // namespace syntonon
