// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/ways/facts.h"

#include "core/base/number_text.h"
#include "core/design/fir/compared_phases.h"
#include "core/goal/time_answer.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <limits>
#include <utility>

namespace syntonon {
namespace {

constexpr double endless = std::numeric_limits<double>::infinity();

// A demand that is missed without a number is missed beyond measure.
double margin_of(const Finding& finding) {
    return finding.margin.value_or(finding.outcome == Outcome::met ? endless : -endless);
}

// Corridor ranges of one side each, whose verdict tells how far the level goes.
class Deviations {
public:
    explicit Deviations(const ResolvedGoal& goal) {
        asked_.target = goal.goal->target;
        for (const CorridorRange& range : goal.goal->corridor) {
            range.below_db ? add_pass(range) : add_stop(range);
        }
        for (const Requirement& requirement : goal.goal->requirements) {
            if (const auto* ripple = std::get_if<RippleRequirement>(&requirement.spec)) {
                add_pass({ripple->from_hz, ripple->to_hz, {}, {}, true, {}});
            } else if (const auto* down = std::get_if<AttenuationRequirement>(&requirement.spec)) {
                add_stop({down->from_hz, down->to_hz, {}, {}, true, {}});
            }
        }
    }

    void find(const Filter& filter, const Axis& axis, const ResolvedGoal& goal,
              WayFacts& facts) const {
        const Verdict verdict =
            judge(resolved(asked_, goal.level, axis.sample_rate_hz, LevelOf::chain_alone),
                  Prediction(filter, nullptr, axis));
        const auto level = [&](std::size_t i) { return verdict[i].value.value_or(-endless); };
        for (const std::size_t i : passes_) {
            if (verdict[i].outcome != Outcome::undecided) {
                facts.ripple_db = std::max(facts.ripple_db.value_or(0), level(i) - level(i + 1));
            }
        }
        for (const std::size_t i : stops_) {
            if (verdict[i].outcome != Outcome::undecided) {
                facts.attenuation_db = std::min(facts.attenuation_db.value_or(endless), -level(i));
            }
        }
    }

private:
    void add_pass(CorridorRange range) {
        passes_.push_back(asked_.corridor.size());
        range.above_to_db.reset();
        range.below_to_db.reset();
        range.above_db = 0;
        range.below_db.reset();
        asked_.corridor.push_back(range);
        std::swap(range.above_db, range.below_db);
        asked_.corridor.push_back(range);
    }
    void add_stop(CorridorRange range) {
        stops_.push_back(asked_.corridor.size());
        range.above_db = 0;
        range.above_to_db.reset();
        range.absolute = true;
        asked_.corridor.push_back(range);
    }

    Goal asked_;
    std::vector<std::size_t> passes_, stops_; // places in its corridor; of a passband the first
};

void add_times(const Filter& filter, const Axis& axis, WayFacts& facts) {
    const auto answer = settled_impulse_response(filter, axis);
    if (!answer || std::ranges::all_of(answer->impulse, [](double v) { return v == 0; })) {
        return;
    }
    const PhaseFacts phase = phase_facts(answer->impulse);
    facts.delay_s = phase.mean_delay / answer->rate_hz;
    facts.pre_ringing_db = phase.before.energy_db;
}

} // namespace

WayFacts way_facts(const Filter& filter, const Axis& axis, const ResolvedGoal& goal,
                   const Verdict& verdict) {
    WayFacts facts;
    facts.cost = filter.cost();
    facts.taps = facts.cost.taps;
    facts.order = facts.taps > 0   ? facts.taps - 1
                  : filter.roots() ? static_cast<int>(filter.roots()->poles.size())
                                   : 0;
    Deviations(goal).find(filter, axis, goal, facts);
    if (const double worst = worst_level_margin_db(verdict); std::isfinite(worst)) {
        facts.worst_margin_db = worst;
    }
    add_times(filter, axis, facts);
    return facts;
}

bool is_level_met(const Verdict& verdict) {
    return std::ranges::all_of(verdict, [](const Finding& finding) {
        return finding.quantity != Quantity::level || finding.outcome == Outcome::met;
    });
}

double worst_level_margin_db(const Verdict& verdict) {
    double worst = endless;
    for (const Finding& finding : verdict) {
        if (finding.quantity == Quantity::level && finding.unit == "dB") {
            worst = std::min(worst, margin_of(finding));
        }
    }
    return worst;
}

std::string most_missed(const Verdict& verdict) {
    const Finding *worst = nullptr, *other = nullptr;
    for (const Finding& finding : verdict) {
        if (finding.quantity == Quantity::level && finding.outcome != Outcome::met
            && (worst == nullptr || margin_of(finding) < margin_of(*worst))) {
            worst = &finding;
        } else if (finding.outcome != Outcome::met && other == nullptr) {
            other = &finding;
        }
    }
    worst = worst != nullptr ? worst : other;
    if (worst == nullptr) {
        return {};
    }
    if (worst->outcome == Outcome::undecided) {
        return fmt::format("{}: {}", worst->requirement, worst->reason);
    }
    const std::string by =
        worst->margin ? fmt::format(" by {:.3g} {}", -*worst->margin, worst->unit) : std::string();
    const std::string where =
        worst->worst_hz ? " at " + frequency_text(*worst->worst_hz) : std::string();
    return fmt::format("{} is missed{}{}", worst->requirement, by, where);
}

} // namespace syntonon
