// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/goal/judge_requirement.h"
#include "core/goal/judging.h"

#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

// So far below the highest level rounding is all that is left of a zero.
constexpr double nothing_db = 200;

// A chain that lets nothing through at all is as far down as one could wish.
Finding judged_from_above(const Case& c, const Extremum& high, double limit, double sign) {
    Finding finding = judged(c.title, "dB", sign * high.value, limit,
                             sign > 0 ? limit - high.value : -high.value - limit, high.hz);
    finding.outcome = high.value == -infinity ? Outcome::met : finding.outcome;
    return finding;
}

} // namespace

Finding judge(const RippleRequirement& r, const Case& c) {
    if (const auto why = obstacle_in(r.from_hz, r.to_hz, c.prediction); !why.empty()) {
        return undecided(c.title, why);
    }
    const Sampled level = sampled(r.from_hz, r.to_hz, c.prediction, level_measure(c.prediction));
    const Extremum high = highest(level), low = lowest(level);
    if (!(low.value > high.value - nothing_db)) {
        Finding finding = judged(c.title, "dB", infinity, r.max_db, -infinity, low.hz);
        finding.reason = fmt::format("the level vanishes at {}, so the ripple is without end",
                                     frequency_text(low.hz));
        return finding;
    }
    const double ripple = high.value - low.value;
    // Both ends make the ripple; the finding points at the upper one.
    return judged(c.title, "dB", ripple, r.max_db, r.max_db - ripple, high.hz);
}

Finding judge(const AttenuationRequirement& r, const Case& c) {
    if (const auto why = obstacle_in(r.from_hz, r.to_hz, c.prediction); !why.empty()) {
        return undecided(c.title, why);
    }
    const Extremum high =
        highest(sampled(r.from_hz, r.to_hz, c.prediction, level_measure(c.prediction)));
    return judged_from_above(c, high, r.min_db, -1);
}

Finding judge(const LevelRequirement& r, const Case& c) {
    if (const auto why = obstacle_in(r.at_hz, r.at_hz, c.prediction); !why.empty()) {
        return undecided(c.title, why);
    }
    const double level = c.prediction.level_db_at(r.at_hz);
    const double below = r.max_db ? *r.max_db - level : infinity;
    const double above = r.min_db ? level - *r.min_db : infinity;
    const bool upper_is_nearer = below <= above;
    return judged(c.title, "dB", level, upper_is_nearer ? *r.max_db : *r.min_db,
                  std::min(below, above), r.at_hz);
}

Finding judge(const PeakGainRequirement& r, const Case& c) {
    const Axis& axis = c.prediction.axis();
    const Prediction alone(c.prediction.chain(), nullptr, axis);
    if (const auto why = obstacle_in(0, axis.end_hz(), alone); !why.empty()) {
        return undecided(c.title, why);
    }
    const Extremum high = highest(sampled(0, axis.end_hz(), alone, level_measure(alone)));
    return judged_from_above(c, high, r.max_db, 1);
}

} // namespace syntonon
