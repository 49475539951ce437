// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/ways/ways.h"

#include "core/goal/judge_requirement.h"
#include "core/study/design_store.h"
#include "core/study/wished.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <fmt/format.h>
#include <limits>
#include <utility>

namespace syntonon {
namespace {

std::shared_ptr<const ResolvedGoal> level_part(const ResolvedGoal& whole, const Axis& axis) {
    Goal goal = *whole.goal;
    std::erase_if(goal.requirements, [](const Requirement& requirement) {
        return quantity_of(requirement.spec) != Quantity::level;
    });
    return std::make_shared<const ResolvedGoal>(
        resolved(goal, whole.level, axis.sample_rate_hz, LevelOf::chain_alone));
}

bool asks_something(const Goal& level) {
    return !level.corridor.empty() || !level.requirements.empty();
}

std::string obstacle_to_all(const ResolvedGoal& whole, const Goal& level, const Wished& wished,
                            bool has_length) {
    if (!whole.contradictions.empty()) {
        return to_text(whole.contradictions.front().problem);
    }
    if (is_stated(whole.goal->target) && !whole.level) {
        return to_text(whole.level.error());
    }
    if (!asks_something(level) && wished.empty()) {
        return "the goal asks nothing of the level, or its target has gaps only; state a target or "
               "draw a corridor";
    }
    if (!asks_something(level) && !has_length) {
        return "nothing in the goal says when a level is good enough; draw a corridor, or give a "
               "length";
    }
    return {};
}

// A look at a few places of each corridor range, as a rule enough to see that a length is too
// short: where one is outside, the exact verdict need not be found.
bool fails_somewhere(const Filter& filter, const ResolvedGoal& level, const Axis& axis) {
    constexpr int looked_at = 64;
    constexpr double surely_db = 1e-6; // more than the verdict's own rounding
    const Probe probe(filter, axis);
    return std::ranges::any_of(level.goal->corridor, [&](const CorridorRange& range) {
        for (int i = 0; i < looked_at; ++i) {
            const double share = static_cast<double>(i) / (looked_at - 1);
            const double hz = std::lerp(range.from_hz, std::min(range.to_hz, axis.end_hz()), share);
            const auto band = band_at(range, level, hz);
            const double db = probe.level_db(hz);
            if (band && (db > band->upper_db + surely_db || db < band->lower_db - surely_db)) {
                return true;
            }
        }
        return false;
    });
}

} // namespace

struct Ways::Trial {
    StageSpec spec;
    std::optional<Filter> filter;
    Verdict verdict; // of the level, or of the whole goal where its candidate says so
    bool meets = false;
    double margin_db = -std::numeric_limits<double>::infinity();
    double design_s = 0;
    std::string why;
};

Ways::Ways(WaysTask task) : task_(std::move(task)) {
    level_ = level_part(*task_.goal, task_.axis);
    brief_ = brief_for(*level_, task_.axis);
    obstacle_ =
        obstacle_to_all(*task_.goal, *level_->goal, *brief_.wished, task_.length.has_value());
    candidates_ = way_candidates(*task_.goal, brief_);
}

Ways::Trial Ways::tried(const StageSpec& spec, const WayCandidate& by, Judged judged,
                        const Watch& watch) const {
    Trial trial;
    trial.spec = spec;
    DesignStore store; // nothing is kept, so that the time is that of designing it
    const auto begun = std::chrono::steady_clock::now();
    const auto made = store.design(spec, only(brief_, store.needs_of(spec)), watch);
    trial.design_s =
        std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
    if (!*made) {
        trial.why = to_text(made->error());
        return trial;
    }
    trial.filter = (*made)->filter;
    if (judged == Judged::until_it_fails && fails_somewhere(*trial.filter, *level_, task_.axis)) {
        return trial;
    }
    trial.verdict = judge(by.by_whole_goal ? *task_.goal : *level_,
                          Prediction(*trial.filter, nullptr, task_.axis));
    trial.meets = by.by_whole_goal ? is_met(trial.verdict) : is_level_met(trial.verdict);
    trial.margin_db = worst_level_margin_db(trial.verdict);
    trial.why = most_missed(trial.verdict);
    return trial;
}

// The shortest FIR of one candidate.
class Ways::Search {
public:
    Search(const Ways& ways, const WayCandidate& candidate, const Watch& watch)
        : ways_(ways), candidate_(candidate), watch_(watch), step_(ways.candidates_.step),
          longest_(candidate.longest.value_or(longest_taps)) {
        longest_ -= step_ == 2 && longest_ % 2 == 0 ? 1 : 0;
    }

    Trial at(int length, Judged judged) {
        std::optional<Trial> best;
        for (std::size_t k = 0; k < candidate_.variants.size(); ++k) {
            const std::size_t variant = (liked_ + k) % candidate_.variants.size();
            Trial trial =
                ways_.tried(candidate_.variants[variant](length), candidate_, judged, watch_);
            if (trial.meets) {
                liked_ = variant;
                return trial;
            }
            if (!best || trial.margin_db > best->margin_db) {
                best = std::move(trial);
            }
        }
        return std::move(*best);
    }

    Trial shortest() {
        int length = fitting(2 * shortest_taps), quick = 2;
        if (candidate_.estimate) {
            Trial first =
                ways_.tried(*candidate_.estimate, candidate_, Judged::until_it_fails, watch_);
            if (!first.filter) {
                return first;
            }
            length =
                fitting(static_cast<int>(candidate_.part_of_estimate * first.filter->cost().taps));
            quick = 1;
        }
        Trial found = bracketed(length, quick);
        if (found.meets && !candidate_.is_even) {
            look_below(found);
        }
        return found;
    }

private:
    int fitting(int length) const {
        const int odd = step_ == 2 && length % 2 == 0 ? length + 1 : length;
        return std::clamp(odd, shortest_taps, longest_);
    }
    int longer(int length, int stride, bool quick) const {
        return fitting(quick ? 2 * length : length + stride * step_);
    }

    // Up until one meets, down until one does not, then between the two.
    Trial bracketed(int length, int quick) {
        std::optional<Trial> found;
        int fails = 0, meets = 0, stride = 1;
        while (!watch_.is_stopped()) {
            Trial trial = at(length, Judged::until_it_fails);
            if (trial.meets) {
                meets = length;
                found = std::move(trial);
            } else {
                fails = length;
                if (meets == 0 && length == longest_) {
                    return too_long(at(length, Judged::fully));
                }
                if (meets == 0 && !trial.filter && ++refused_ > most_refused) {
                    return trial;
                }
            }
            if (meets != 0 && (meets - fails <= step_ || meets == shortest_taps)) {
                shortest_ = meets;
                return std::move(*found);
            }
            if (meets != 0 && fails != 0) {
                length = fails + std::max(step_, (meets - fails) / 2 / step_ * step_);
            } else if (meets != 0) {
                length = fitting(quick == 2 ? meets / 2 : meets - stride * step_);
            } else {
                length = longer(fails, stride, quick == 2);
            }
            stride *= 2;
        }
        return stopped_trial();
    }
    void look_below(Trial& found) {
        constexpr int looked_at = 3;
        for (int k = 2; k < 2 + looked_at && shortest_ - k * step_ >= shortest_taps; ++k) {
            Trial trial = at(shortest_ - k * step_, Judged::until_it_fails);
            if (trial.meets) {
                shortest_ -= k * step_;
                found = std::move(trial);
                k = 1;
            }
        }
    }
    Trial too_long(Trial trial) const {
        trial.why = fmt::format("with {} taps, the longest tried, {}", longest_, trial.why);
        return trial;
    }
    static Trial stopped_trial() {
        Trial trial;
        trial.why = to_text(stopped().value());
        return trial;
    }

    static constexpr int most_refused = 4;
    const Ways& ways_;
    const WayCandidate& candidate_;
    const Watch& watch_;
    int step_, longest_;
    std::size_t liked_ = 0; // the variant that met it last
    int refused_ = 0, shortest_ = 0;
};

Way Ways::found(std::size_t i, const Watch& watch) const {
    const WayCandidate& candidate = candidates_.all[i];
    Way way;
    way.name = candidate.name;
    way.why = !obstacle_.empty() ? obstacle_ : candidate.obstacle;
    if (!way.why.empty()) {
        return way;
    }
    Search search(*this, candidate, watch);
    const bool is_searched = candidate.has_length && !task_.length;
    Trial trial =
        is_searched ? search.shortest() : search.at(task_.length.value_or(0), Judged::fully);
    way.spec = std::move(trial.spec);
    way.why = std::move(trial.why);
    if (trial.filter) {
        way.verdict = judge(*task_.goal, Prediction(*trial.filter, nullptr, task_.axis));
        way.facts = way_facts(*trial.filter, task_.axis, *level_, trial.verdict);
        way.facts.design_s = trial.design_s;
        way.meets_level = is_level_met(trial.verdict);
        way.meets_goal = way.meets_level && is_met(way.verdict);
        if (way.meets_level && way.why.empty()) {
            way.why = most_missed(way.verdict);
        }
        way.filter = std::move(trial.filter);
    }
    return way;
}

} // namespace syntonon
