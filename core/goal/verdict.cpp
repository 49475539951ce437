// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/verdict.h"

#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/goal/extremum.h"
#include "core/goal/judge_requirement.h"

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

Finding judge_range(const CorridorRange& range, const Target& target,
                    const Prediction& prediction) {
    if (const std::string why = obstacle_in(range.from_hz, range.to_hz, prediction); !why.empty()) {
        return undecided(title_of(range), why);
    }
    std::vector<double> hz = prediction.telling_frequencies(range.from_hz, range.to_hz);
    for (const TargetPoint& point : target.points) {
        if (point.frequency_hz > range.from_hz && point.frequency_hz < range.to_hz) {
            hz.push_back(point.frequency_hz);
        }
    }
    const auto grid = FrequencyGrid::from_frequencies(std::move(hz), prediction.sample_rate_hz());
    if (!grid) {
        return undecided(title_of(range), to_text(grid.error()));
    }
    const std::vector<double> frequencies(grid->frequency_hz().begin(), grid->frequency_hz().end());
    std::vector<double> deviation = prediction.levels_db(*grid);
    for (std::size_t i = 0; i < deviation.size(); ++i) {
        deviation[i] -= level_db_at(target, frequencies[i]);
    }
    Finding finding;
    finding.requirement = title_of(range);
    finding.unit = "dB";
    for (const double sign : {+1.0, -1.0}) {
        const auto& limit = sign > 0 ? range.above_db : range.below_db;
        if (!limit) {
            continue;
        }
        std::vector<double> excess(deviation.size());
        std::ranges::transform(deviation, excess.begin(),
                               [&](double d) { return sign * d - *limit; });
        const Function f = [&](double at) {
            return sign * (prediction.level_db_at(at) - level_db_at(target, at)) - *limit;
        };
        take_worse(finding, greatest(f, frequencies, excess), *limit, sign);
    }
    finding.outcome = finding.margin && *finding.margin >= 0 ? Outcome::met : Outcome::not_met;
    drop_infinities(finding);
    return finding;
}

Finding judge_stability(const Prediction& prediction) {
    Finding finding;
    finding.requirement = "stability";
    double margin = 1;
    for (const Filter& filter : prediction.chain()) {
        margin = std::min(margin, filter.stability_margin());
    }
    finding.value = margin;
    finding.limit = 0;
    finding.margin = margin;
    finding.outcome = margin > 0 ? Outcome::met : Outcome::not_met;
    return finding;
}

} // namespace

bool is_met(const Verdict& verdict) {
    return std::ranges::all_of(verdict, [](const Finding& f) { return f.outcome == Outcome::met; });
}

Verdict judge(const Goal* goal, const Prediction& prediction) {
    Verdict verdict;
    if (goal != nullptr) {
        const auto target = check(goal->target);
        const auto corridor = check(goal->corridor);
        if (!target || !corridor) {
            return undecided_verdict(goal, to_text(!target ? within("target", target.error())
                                                           : within("corridor", corridor.error())));
        }
        for (const CorridorRange& range : goal->corridor) {
            verdict.push_back(judge_range(range, goal->target, prediction));
        }
        for (const Requirement& requirement : goal->requirements) {
            verdict.push_back(judge_requirement(requirement, prediction));
        }
    }
    verdict.push_back(judge_stability(prediction));
    return verdict;
}

Verdict undecided_verdict(const Goal* goal, const std::string& why) {
    Verdict verdict;
    if (goal != nullptr) {
        for (const CorridorRange& range : goal->corridor) {
            verdict.push_back(undecided(title_of(range), why));
        }
        for (const Requirement& requirement : goal->requirements) {
            verdict.push_back(undecided(title_of(requirement), why));
        }
    }
    verdict.push_back(undecided("stability", why));
    return verdict;
}

} // namespace syntonon
