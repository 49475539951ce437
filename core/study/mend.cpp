// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/mend.h"

#include "core/base/units.h"
#include "core/goal/judge_requirement.h"
#include "core/math/least_distance.h"
#include "core/study/kinds.h"
#include "core/study/knob.h"

#include <algorithm>
#include <cmath>
#include <tuple>

namespace syntonon {
namespace {

constexpr std::size_t most_of_a_stage = 200; // numbers
constexpr double frequency_step_oct = 1.0 / 3, width_step_oct = 0.5;
constexpr double room_db = 0.02;       // a margin that is aimed for
constexpr double slack_a_step = 0.005; // dB that may be missed for as much as one step

// A number as steps from what it was.
struct Turned {
    MendKnob knob;
    std::string caption, unit;
    double was, least, most;
    bool by_ratio;
    double step; // octaves, or in its unit

    // Further away it would be another stage, not a mended one.
    double furthest() const { return by_ratio ? 3 : 12; }
    double value(double steps) const {
        const double value = by_ratio ? was * std::exp2(step * steps) : was + step * steps;
        return std::clamp(value, least, most);
    }
};

bool is_mendable(const Knob& knob, bool is_width) {
    return knob.steps != FieldSteps::whole && std::isfinite(knob.value)
           && (knob.dimension == Dimension::frequency || knob.dimension == Dimension::level
               || is_width);
}

bool is_width(const std::string& key) {
    return key == "q" || key == "bandwidth_oct" || key == "slope" || key.starts_with("section_q[");
}
bool is_section(const std::string& key, const char* row) {
    return key.starts_with(row);
}

// Rows of a correction say no dimension; a setting of a fit does nothing to the filter.
std::optional<Turned> turned_of(const std::string& stage, const StageSpec& spec, const Knob& knob) {
    const bool frequency =
        knob.dimension == Dimension::frequency || is_section(knob.key, "section_frequency_hz[");
    const bool level =
        knob.dimension == Dimension::level || is_section(knob.key, "section_gain_db[");
    const bool width = is_width(knob.key);
    const auto* correction = std::get_if<CorrectionSpec>(&*spec);
    if (correction != nullptr) {
        const auto* method = std::get_if<SectionsCorrection>(&correction->method);
        const auto at = knob.key.find('[');
        if (method == nullptr || at == std::string::npos
            || method->found[std::stoul(knob.key.substr(at + 1))].locked) {
            return std::nullopt;
        }
    } else if (!is_mendable(knob, width)) {
        return std::nullopt;
    }
    const double step = frequency ? frequency_step_oct : width ? width_step_oct : 1;
    const bool by_ratio = (frequency || width) && knob.value > 0;
    return frequency || level || width ? std::optional(Turned{{stage, knob.key},
                                                              knob.caption,
                                                              knob.unit,
                                                              knob.value,
                                                              knob.least,
                                                              knob.most,
                                                              by_ratio,
                                                              step})
                                       : std::nullopt;
}

std::vector<Turned> all_turned(const Channel& channel) {
    std::vector<Turned> all;
    visit_stages(channel.stages, [&](const Stage& stage, const Slot&, int) {
        const auto knobs = knobs_of(stage.spec);
        if (!stage.enabled || knobs.size() > most_of_a_stage) {
            return;
        }
        for (const Knob& knob : knobs) {
            if (auto turned = turned_of(stage.id, stage.spec, knob)) {
                all.push_back(std::move(*turned));
            }
        }
    });
    return all;
}

// Margins in dB, or as much of other units as counts like it; positive: met.
class Margins {
public:
    Margins(const Study& study, const Channel& channel, Briefs& briefs,
            std::shared_ptr<const ResolvedGoal> goal, SharedMeasured measured)
        : study_(study), channel_id_(channel.id), briefs_(briefs), goal_(std::move(goal)),
          measured_(std::move(measured)) {}

    Expected<Filter> filter(const Chain& chain) {
        Study study = study_;
        for (auto& channel : study.channels) {
            if (channel->id == channel_id_) {
                channel.edit().stages = chain;
            }
        }
        const DesignedChain made = briefs_.design(study, *channel_of(study, channel_id_));
        if (!made.problems.empty()) {
            return tl::unexpected(made.problems.front());
        }
        return made.waits_for.empty() ? Expected<Filter>(made.filter)
                                      : tl::unexpected(being_designed(made.waits_for));
    }
    Prediction prediction(const Filter& filter) const {
        return {filter, measured_ != nullptr ? &measured_->reader : nullptr,
                axis_of(study_, *channel_of(study_, channel_id_))};
    }
    Verdict verdict(const Filter& filter) const { return judge(*goal_, prediction(filter)); }

    // Where levels are looked at from now on: extremes of this filter's, and a few between.
    void look_around(const Filter& filter) {
        const Prediction predicted = prediction(filter);
        places_.clear();
        for (std::size_t i = 0; i < goal_->goal->corridor.size(); ++i) {
            const CorridorRange& range = goal_->goal->corridor[i];
            const double low = std::max({range.from_hz, predicted.low_hz(), 1.0});
            const double high = std::min(range.to_hz, predicted.high_hz());
            constexpr double an_octave = 24;
            const auto count =
                high > low ? 2 + static_cast<std::size_t>(an_octave * std::log2(high / low)) : 0;
            for (std::size_t k = 0; k < count; ++k) {
                const double share = static_cast<double>(k) / static_cast<double>(count - 1);
                places_.push_back({i, low * std::pow(high / low, share)});
            }
        }
        // Exactly where it is worst now, too.
        const Verdict now = verdict(filter);
        for (const Finding& finding : now) {
            for (std::size_t i = 0; i < goal_->goal->corridor.size(); ++i) {
                if (finding.place == "corridor[" + std::to_string(i) + "]" && finding.worst_hz) {
                    places_.push_back({i, *finding.worst_hz});
                }
            }
        }
        std::ranges::stable_sort(places_, [](const Place& a, const Place& b) {
            return std::tie(a.range, a.hz) < std::tie(b.range, b.hz);
        });
    }

    // Where the level leaves the corridor: of each such stretch the worst frequency, the worst
    // stretch first.
    std::vector<double> missed_hz(const Filter& filter) {
        look_around(filter);
        const std::vector<double> margins = at(filter);
        struct Stretch {
            double hz, margin;
        };
        std::vector<Stretch> stretches;
        bool is_within = true;
        for (std::size_t i = 0; i < places_.size(); ++i) {
            const double margin = std::min(margins[2 * i], margins[2 * i + 1]);
            if (margin >= 0) {
                is_within = true;
                continue;
            }
            if (is_within) {
                stretches.push_back({places_[i].hz, margin});
            } else if (margin < stretches.back().margin) {
                stretches.back() = {places_[i].hz, margin};
            }
            is_within = false;
        }
        std::ranges::stable_sort(stretches, {}, &Stretch::margin);
        std::vector<double> hz;
        for (const Stretch& stretch : stretches) {
            hz.push_back(stretch.hz);
        }
        return hz;
    }

    std::vector<double> at(const Filter& filter) const {
        const Prediction predicted = prediction(filter);
        std::vector<double> margins;
        for (const Place& place : places_) {
            const double level = predicted.level_db_at(place.hz);
            const auto band = band_at(goal_->goal->corridor[place.range], *goal_, place.hz);
            margins.push_back(band && std::isfinite(band->upper_db) ? band->upper_db - level
                                                                    : most_margin);
            margins.push_back(band && std::isfinite(band->lower_db) ? level - band->lower_db
                                                                    : most_margin);
        }
        for (const Requirement& requirement : goal_->goal->requirements) {
            margins.push_back(scaled(judge_requirement(requirement, *goal_, predicted)));
        }
        const auto stable = filter.stability_margin(study_.sample_rate_hz);
        constexpr double dB_per_margin = 1e4; // a pole 0.0001 from the circle counts as 1 dB
        margins.push_back(stable ? std::clamp(*stable * dB_per_margin, -most_margin, most_margin)
                                 : most_margin);
        return margins;
    }

private:
    static constexpr double most_margin = 100;
    struct Place {
        std::size_t range;
        double hz;
    };

    // In dB as they are; of other units a tenth of the limit counts as 1 dB.
    static double scaled(const Finding& finding) {
        if (!finding.margin) {
            return most_margin; // cannot be judged, and so not be mended
        }
        constexpr double tenth = 0.1, tiny = 1e-3;
        const double unit = finding.unit == "dB" || !finding.limit
                                ? 1
                                : std::max(tenth * std::abs(*finding.limit), tiny);
        return std::clamp(*finding.margin / unit, -most_margin, most_margin);
    }

    const Study& study_;
    std::string channel_id_;
    Briefs& briefs_;
    std::shared_ptr<const ResolvedGoal> goal_;
    SharedMeasured measured_;
    std::vector<Place> places_;
};

double worst_of(const std::vector<double>& margins) {
    return std::ranges::min(margins);
}

class Mender {
public:
    Mender(const Channel& channel, std::vector<Turned> turned, Margins& margins, const Watch& watch)
        : stages_(channel.stages), turned_(std::move(turned)), margins_(margins), watch_(watch) {}

    Expected<Chain> mended() {
        std::vector<double> steps(turned_.size(), 0.0);
        std::vector<double> weights(turned_.size(), 1.0);
        steps = approach(std::move(steps), weights, 25);
        if (worst(steps) < 0) {
            steps = approach(std::move(steps), weights, 15, Firmness::all_alike);
        }
        if (watch_.is_stopped()) {
            return stopped();
        }
        return with(few_of(std::move(steps)));
    }

    Chain with(const std::vector<double>& steps) const {
        Chain chain = stages_;
        for (std::size_t k = 0; k < turned_.size(); ++k) {
            if (steps[k] != 0) {
                edit_stage(chain, turned_[k].knob.stage, [&](Stage& stage) {
                    turn(stage.spec, turned_[k].knob.key, turned_[k].value(steps[k]));
                });
            }
        }
        return chain;
    }

    double worst(const std::vector<double>& steps) {
        const auto filter = margins_.filter(with(steps));
        return filter ? worst_of(margins_.at(*filter)) : -infinity;
    }

private:
    // While some of the goal is missed the rest must not be given up for it; only if it stays
    // missed all of it is made to miss alike.
    enum class Firmness { keep_what_is_met, all_alike };

    // From where it stands towards the nearest point to the origin that meets all; `weights`: how
    // freely each number moves.
    std::vector<double> approach(std::vector<double> steps, const std::vector<double>& weights,
                                 int most_rounds, Firmness firmness = Firmness::keep_what_is_met) {
        for (int round = 0; round < most_rounds && !watch_.is_stopped(); ++round) {
            watch_.report(static_cast<double>(round) / most_rounds);
            const auto filter = margins_.filter(with(steps));
            if (!filter) {
                return steps;
            }
            margins_.look_around(*filter);
            const std::vector<double> now = margins_.at(*filter);
            const std::vector<double> wanted =
                nearest(steps, weights, now, slopes_at(steps, now), firmness);
            if (!advance(steps, wanted, now)) {
                return steps;
            }
        }
        return steps;
    }

    // Of each margin by each number, margin by margin.
    std::vector<double> slopes_at(const std::vector<double>& steps,
                                  const std::vector<double>& now) {
        constexpr double h = 1e-3;
        const std::size_t n = turned_.size();
        std::vector<double> slopes(now.size() * n, 0.0);
        for (std::size_t k = 0; k < n; ++k) {
            std::vector<double> there = steps;
            there[k] += h;
            if (const auto filter = margins_.filter(with(there))) {
                const std::vector<double> then = margins_.at(*filter);
                for (std::size_t i = 0; i < now.size(); ++i) {
                    slopes[i * n + k] = (then[i] - now[i]) / h;
                }
            }
        }
        return slopes;
    }

    // Where the straightened margins are all met, or, at the price of slack, nearly.
    std::vector<double> nearest(const std::vector<double>& steps,
                                const std::vector<double>& weights, const std::vector<double>& now,
                                const std::vector<double>& slopes, Firmness firmness) const {
        const std::size_t n = steps.size();
        std::vector<double> g, h;
        for (std::size_t i = 0; i < now.size(); ++i) {
            const auto row = std::span(slopes).subspan(i * n, n);
            double here = 0;
            for (std::size_t k = 0; k < n; ++k) {
                g.push_back(row[k] * weights[k]);
                here += row[k] * steps[k];
            }
            const bool is_firm = now[i] >= 0 && firmness == Firmness::keep_what_is_met;
            g.push_back(is_firm ? 0 : slack_a_step);
            h.push_back(std::min(room_db, is_firm ? now[i] : room_db) - now[i] + here);
        }
        for (std::size_t k = 0; k < n; ++k) {
            for (const double sign : {1.0, -1.0}) {
                std::vector<double> row(n + 1, 0.0);
                row[k] = sign * weights[k];
                g.insert(g.end(), row.begin(), row.end());
                h.push_back(-turned_[k].furthest());
            }
        }
        const auto found = least_distance(g, n + 1, h);
        std::vector<double> wanted = steps;
        for (std::size_t k = 0; found && k < n; ++k) {
            wanted[k] = weights[k] * (*found)[k];
        }
        return wanted;
    }

    // As far towards it as makes nothing worse; false where that is nowhere.
    bool advance(std::vector<double>& steps, const std::vector<double>& wanted,
                 const std::vector<double>& now) {
        constexpr double longest = 1, still = 1e-3;
        double length = 0;
        for (std::size_t k = 0; k < steps.size(); ++k) {
            length = std::max(length, std::abs(wanted[k] - steps[k]));
        }
        if (length < still) {
            return false;
        }
        const double misses = std::min(worst_of(now), room_db / 2);
        double share = std::min(1.0, longest / length);
        for (int halving = 0; halving < 5; ++halving, share /= 2) {
            std::vector<double> attempt = steps;
            for (std::size_t k = 0; k < steps.size(); ++k) {
                attempt[k] += share * (wanted[k] - steps[k]);
            }
            if (worst(attempt) >= misses - 1e-6) {
                steps = std::move(attempt);
                return true;
            }
        }
        return false;
    }

    // What hardly moved is held back more and more, as long as that costs no margin.
    std::vector<double> few_of(std::vector<double> steps) {
        constexpr double hardly = 0.05, barely = 0.02;
        constexpr int rounds = 3, approaches = 6;
        const double reached = std::min(worst(steps), room_db / 2);
        for (int round = 0; round < rounds; ++round) {
            std::vector<double> weights;
            for (const double step : steps) {
                weights.push_back(std::abs(step) + hardly / 2);
            }
            std::vector<double> fewer = approach(steps, weights, approaches);
            std::vector<double> rounded = fewer;
            for (double& step : rounded) {
                step = std::abs(step) < barely ? 0 : step;
            }
            for (const auto* attempt : {&fewer, &rounded}) {
                if (worst(*attempt) >= reached - 1e-6) {
                    steps = *attempt;
                }
            }
        }
        return steps;
    }

    const Chain& stages_;
    std::vector<Turned> turned_;
    Margins& margins_;
    const Watch& watch_;
};

std::vector<MendChange> changes_of(const std::vector<Turned>& turned, const Chain& stages) {
    std::vector<MendChange> changes;
    for (const Turned& one : turned) {
        const Stage* stage = find_stage(stages, one.knob.stage);
        const auto now = stage != nullptr ? knob_of(stage->spec, one.knob.key) : std::nullopt;
        if (now && now->value != one.was) {
            const double by = one.by_ratio ? std::log2(now->value / one.was) : now->value - one.was;
            changes.push_back(
                {one.knob, one.caption, one.unit, one.was, now->value, by / one.step});
        }
    }
    std::ranges::stable_sort(changes, std::greater(),
                             [](const MendChange& change) { return std::abs(change.steps); });
    return changes;
}

} // namespace

std::vector<MendKnob> knobs_to_mend(const Channel& channel) {
    std::vector<MendKnob> knobs;
    for (const Turned& turned : all_turned(channel)) {
        knobs.push_back(turned.knob);
    }
    return knobs;
}

namespace {

// A bell that does nothing yet.
std::string add_bell(Channel& channel, double hz) {
    constexpr double q = 1.5;
    Stage bell;
    bell.spec = parametric(ParametricShape::peak, hz, 0, q);
    give_fresh_ids(bell, channel.stages);
    channel.stages.emplace_back(bell);
    return bell.id;
}

// Whether a number may be turned: named, or of a bell that was added.
bool may_turn(const Turned& one, const std::vector<MendKnob>& knobs,
              const std::vector<std::string>& added) {
    return std::ranges::find(knobs, one.knob) != knobs.end()
           || std::ranges::find(added, one.knob.stage) != added.end();
}

} // namespace

Expected<Mended> mend(const Study& study, const Channel& channel,
                      const std::vector<MendKnob>& knobs, Briefs& briefs, const Watch& watch,
                      int most_added) {
    const auto goal = briefs.goal_of(study, channel).goal;
    if (goal == nullptr) {
        return refuse("goal", "the channel has no goal that could be met", "give it one");
    }
    const auto measured = briefs.measured_of(study, channel);
    if (!measured) {
        return tl::unexpected(measured.error());
    }
    Margins margins(study, channel, briefs, goal, *measured);
    const auto before = margins.filter(channel.stages);
    if (!before) {
        return tl::unexpected(before.error());
    }
    Mended mended;
    mended.before = mended.after = margins.verdict(*before);
    if (is_met(mended.before)) {
        return refuse("goal", "it is met already", "ask for more in the goal");
    }
    // Each time from where it was: what was turned in vain is no start for anything.
    const std::vector<double> missed = margins.missed_hz(*before);
    const std::size_t most = std::min(missed.size(), static_cast<std::size_t>(most_added));
    for (std::size_t count = 0; count <= most; ++count) {
        Channel edited = channel;
        Mended now;
        now.before = mended.before;
        for (std::size_t i = 0; i < count; ++i) {
            now.added.push_back(add_bell(edited, missed[i]));
        }
        std::vector<Turned> turned = all_turned(edited);
        std::erase_if(turned, [&](const Turned& one) { return !may_turn(one, knobs, now.added); });
        if (turned.empty()) {
            continue;
        }
        const auto stages =
            Mender(edited, turned, margins, watch.part_of(count, most + 1)).mended();
        if (!stages) {
            return tl::unexpected(stages.error());
        }
        const auto after = margins.filter(*stages);
        if (!after) {
            return tl::unexpected(after.error());
        }
        now.stages = *stages;
        now.changes = changes_of(turned, *stages);
        now.after = margins.verdict(*after);
        now.is_met = is_met(now.after);
        mended = std::move(now);
        if (mended.is_met) {
            break;
        }
    }
    if (mended.stages.empty()) {
        return refuse("stages", "there is no number that may be turned: all is locked",
                      "unlock some, or add a stage");
    }
    return mended;
}

} // namespace syntonon
