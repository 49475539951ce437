// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/verdict.h"

#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/design/root_numbers.h"
#include "core/goal/extremum.h"
#include "core/goal/judge_requirement.h"
#include "core/goal/judging.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <limits>
#include <numbers>

namespace syntonon {
namespace {

std::string title_of(const CorridorRange& range) {
    return "corridor " + range_text(range.from_hz, range.to_hz);
}

void take_worse(Finding& finding, const Extremum& excess, double limit, double sign) {
    // -infinity inside an open side or a zero of the chain: no number to show, but a margin to
    // judge.
    const double margin = -excess.value;
    if (!finding.margin || margin < *finding.margin) {
        finding.margin = margin;
        finding.value = sign * (limit + excess.value);
        finding.limit = sign * limit;
        finding.worst_hz = excess.hz;
    }
}

// Numbers that do not exist are absent, not infinite: a zero of the chain is infinitely far below.
void drop_infinities(Finding& finding) {
    for (auto* number : {&finding.value, &finding.margin}) {
        if (*number && !std::isfinite(**number)) {
            number->reset();
        }
    }
}

// The worst of one part of the target, on the sides that are closed.
void judge_part(Finding& finding, const CorridorRange& range, const TargetCurve& target,
                const TargetCurve::Part& part, const Prediction& prediction) {
    std::vector<double> hz = prediction.telling_frequencies(part.from_hz, part.to_hz);
    hz.insert(hz.end(), part.corners_hz.begin(), part.corners_hz.end());
    // The range lies within the known frequencies, so there is always a grid.
    const auto grid = *FrequencyGrid::from_frequencies(std::move(hz), prediction.axis());
    const std::vector<double> frequencies(grid.frequency_hz().begin(), grid.frequency_hz().end());
    std::vector<double> deviation = prediction.levels_db(grid);
    for (std::size_t i = 0; i < deviation.size(); ++i) {
        deviation[i] -= target.value_in(part, frequencies[i]);
    }
    for (const double sign : {+1.0, -1.0}) {
        const auto& flat = sign > 0 ? range.above_db : range.below_db;
        if (!flat) {
            continue;
        }
        const auto side_at = sign > 0 ? above_db_at : below_db_at;
        const bool is_sloping = (sign > 0 ? range.above_to_db : range.below_to_db).has_value();
        const auto limit_at = [&](double at) { return is_sloping ? *side_at(range, at) : *flat; };
        std::vector<double> excess(deviation.size());
        for (std::size_t i = 0; i < excess.size(); ++i) {
            excess[i] = sign * deviation[i] - limit_at(frequencies[i]);
        }
        const Function f = [&](double at) {
            return sign * (prediction.level_db_at(at) - target.value_in(part, at)) - limit_at(at);
        };
        const Extremum worst = greatest(f, frequencies, excess);
        take_worse(finding, worst, limit_at(worst.hz), sign);
    }
}

Finding judge_range(const CorridorRange& range, const ResolvedGoal& goal,
                    const Prediction& prediction) {
    const Expected<TargetCurve>& stated = goal.level;
    if (const std::string why = obstacle_in(range.from_hz, range.to_hz, prediction); !why.empty()) {
        return undecided(title_of(range), why);
    }
    if (!range.absolute && !is_stated(goal.goal->target)) {
        return undecided(title_of(range), to_text(no_target()));
    }
    if (!range.absolute && !stated) {
        return undecided(title_of(range), to_text(stated.error()));
    }
    const TargetCurve target = range.absolute ? TargetCurve() : *stated;
    const auto parts = target.parts(range.from_hz, range.to_hz);
    if (parts.empty()) {
        return undecided(title_of(range), "the target has a gap in the whole range; draw it there, "
                                          "make the range absolute or remove it");
    }
    Finding finding;
    finding.requirement = title_of(range);
    finding.unit = "dB";
    for (const TargetCurve::Part& part : parts) {
        judge_part(finding, range, target, part, prediction);
    }
    if (finding.margin && *finding.margin < 0 && *finding.margin >= -rounding_db) {
        finding.margin = 0;
    }
    finding.outcome = finding.margin && *finding.margin >= 0 ? Outcome::met : Outcome::not_met;
    drop_infinities(finding);
    return finding;
}

void judge_corridor(const ResolvedGoal& goal, const Prediction& prediction, Verdict& verdict) {
    const auto target = check(goal.goal->target);
    for (std::size_t i = 0; i < goal.goal->corridor.size(); ++i) {
        const CorridorRange& range = goal.goal->corridor[i];
        const auto ok = check(Corridor{range});
        Finding finding =
            !ok       ? undecided(title_of(range), to_text(within("corridor", ok.error())))
            : !target ? undecided(title_of(range), to_text(within("target", target.error())))
                      : judge_range(range, goal, prediction);
        finding.place = fmt::format("corridor[{}]", i);
        finding.quantity = Quantity::level;
        verdict.push_back(std::move(finding));
    }
}

void judge_requirements(const ResolvedGoal& goal, const Prediction& prediction, Verdict& verdict) {
    for (std::size_t i = 0; i < goal.goal->requirements.size(); ++i) {
        Finding finding = judge_requirement(goal.goal->requirements[i], goal, prediction);
        finding.place = fmt::format("requirements[{}]", i);
        verdict.push_back(std::move(finding));
    }
}

// One of two demands that exclude each other is never met; it says why.
void mark_contradictions(const ResolvedGoal& goal, Verdict& verdict) {
    for (const Contradiction& contradiction : goal.contradictions) {
        for (Finding& finding : verdict) {
            const bool named = finding.place == contradiction.problem.place
                               || finding.place == contradiction.first_place;
            if (named && finding.outcome == Outcome::not_met) {
                finding.reason +=
                    (finding.reason.empty() ? "" : "; ") + to_text(contradiction.problem);
            }
        }
    }
}

// How far the tightest loop's gain is from where its answer no longer dies away.
Finding judge_loops(const Stability& stability, const Axis& axis) {
    Finding finding;
    finding.requirement = "stability";
    finding.unit = "dB";
    finding.outcome = stability.is_stable() ? Outcome::met : Outcome::not_met;
    const LoopMargin& loop = *stability.margin;
    if (std::isfinite(loop.most_gain) && loop.most_gain > 0) {
        finding.margin = db_from_ratio(loop.most_gain);
        finding.value = -*finding.margin;
        finding.limit = 0;
        finding.worst_hz = hz_of_turns(loop.most_gain_turns, axis);
    }
    return finding;
}

Finding judge_stability(const Prediction& prediction) {
    const auto& stability = prediction.chain().stability();
    if (stability && stability->margin) {
        return judge_loops(*stability, prediction.axis());
    }
    const auto margin = prediction.chain().stability_margin(prediction.sample_rate_hz());
    if (!margin) {
        return undecided("stability", to_text(margin.error()));
    }
    Finding finding;
    finding.requirement = "stability";
    finding.value = *margin;
    finding.limit = 0;
    finding.margin = *margin;
    finding.outcome = *margin > 0 ? Outcome::met : Outcome::not_met;
    if (*margin <= 0 && prediction.chain().roots()) { // asked for last: they may take long to find
        finding.reason = growth_text(*prediction.chain().roots(), prediction.axis());
    }
    return finding;
}

} // namespace

bool is_met(const Verdict& verdict) {
    return std::ranges::all_of(verdict, [](const Finding& f) { return f.outcome == Outcome::met; });
}

Verdict judge(const ResolvedGoal& goal, const Prediction& prediction) {
    Verdict verdict;
    judge_corridor(goal, prediction, verdict);
    judge_requirements(goal, prediction, verdict);
    mark_contradictions(goal, verdict);
    verdict.push_back(judge_stability(prediction));
    return verdict;
}

Verdict judge(const Goal* goal, const Prediction& prediction) {
    if (goal == nullptr) {
        return {judge_stability(prediction)};
    }
    const LevelOf level_of =
        prediction.is_chain_alone() ? LevelOf::chain_alone : LevelOf::measured_and_chain;
    return judge(resolved(*goal, prediction.sample_rate_hz(), level_of), prediction);
}

Verdict undecided_verdict(const Goal* goal, const std::string& why) {
    Verdict verdict;
    if (goal != nullptr) {
        for (std::size_t i = 0; i < goal->corridor.size(); ++i) {
            verdict.push_back(undecided(title_of(goal->corridor[i]), why));
            verdict.back().place = fmt::format("corridor[{}]", i);
        }
        for (std::size_t i = 0; i < goal->requirements.size(); ++i) {
            verdict.push_back(undecided(title_of(goal->requirements[i]), why));
            verdict.back().place = fmt::format("requirements[{}]", i);
        }
    }
    verdict.push_back(undecided("stability", why));
    return verdict;
}

} // namespace syntonon
