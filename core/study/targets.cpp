// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/targets.h"

#include "core/base/units.h"
#include "core/curve/smoothing.h"
#include "core/goal/corridor.h"
#include "core/goal/prediction.h"
#include "core/study/designed_chain.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr double points_an_octave = 192; // of a target that follows a chain
constexpr double smoothed_points_an_octave = 48;
constexpr double least_hz = 5;
constexpr std::size_t dense = 4096; // a denser measured curve is thinned even without smoothing

// The level of the chain, times the measured curve where there is one, as a curve.
Expected<Curve> curve_of_chain(const Filter& chain, const Curve* measured, double sample_rate_hz) {
    std::optional<CurveReader> reader;
    if (measured != nullptr) {
        reader.emplace(*measured);
    }
    const Prediction prediction(chain, reader ? &*reader : nullptr, sample_rate_hz);
    const double low = std::max(least_hz, prediction.low_hz()), high = prediction.high_hz();
    std::vector<double> hz = prediction.telling_frequencies(low, high);
    const double ratio = std::exp2(1 / points_an_octave);
    for (double f = low; f < high; f *= ratio) {
        hz.push_back(f);
    }
    const auto grid = FrequencyGrid::from_frequencies(std::move(hz), sample_rate_hz);
    if (!grid) {
        return tl::unexpected(grid.error());
    }
    Curve curve;
    const auto levels = prediction.levels_db(*grid);
    for (std::size_t i = 0; i < levels.size(); ++i) {
        if (std::isfinite(levels[i])) { // a zero of the chain is no level to aim for
            curve.frequency_hz.push_back(grid->frequency_hz()[i]);
            curve.magnitude_db.push_back(levels[i]);
        }
    }
    return curve;
}

Expected<Curve> followed(const Study& study, const FoundSource& found, const TargetSource& source,
                         DesignStore& store) {
    if (found.curve != nullptr) {
        return *found.curve;
    }
    const double rate = study.sample_rate_hz;
    const Chain& stages = found.take != nullptr ? found.take->stages : found.channel->stages;
    const DesignedChain chain = design_chain(stages, brief_at(rate), store);
    if (found.stage != nullptr) {
        const auto& filter = chain.stages.at(found.stage->id).filter;
        return filter ? curve_of_chain(*filter, nullptr, rate) : tl::unexpected(filter.error());
    }
    if (!chain.problems.empty()) {
        return tl::unexpected(within(source.channel, chain.problems.front()));
    }
    return curve_of_chain(chain.filter, measured_of(study, *found.channel), rate);
}

Expected<Curve> source_curve(const Study& study, const Channel& channel, const TargetSource& source,
                             DesignStore& store) {
    if (source.kind == TargetSource::Kind::channel && source.channel == channel.id) {
        return refuse("channel",
                      "the target would be the channel's own prediction, met by anything",
                      "follow another channel or a take");
    }
    const auto found = find_source(study, source);
    if (!found) {
        return tl::unexpected(found.error());
    }
    auto curve = followed(study, *found, source, store);
    if (curve && curve->frequency_hz.empty()) {
        return refuse("", "what the target follows has no level at any frequency up to Nyquist",
                      "follow something else");
    }
    if (!curve || (source.smoothing_oct == 0 && curve->frequency_hz.size() <= dense)) {
        return curve;
    }
    return smoothed(*curve, source.smoothing_oct,
                    source.smoothing_oct > 0 ? smoothed_points_an_octave : points_an_octave);
}

// As a corridor is undecided where it reaches beyond the measured curve.
Expected<void> check_covered(const Curve& measured, const LevelAnchor& anchor) {
    if (anchor.from_hz < measured.low_hz() || anchor.to_hz > measured.high_hz()) {
        return refuse("",
                      fmt::format("the measured curve covers only {}, not all of {}",
                                  range_text(measured.low_hz(), measured.high_hz()),
                                  range_text(anchor.from_hz, anchor.to_hz)),
                      "narrow the anchor's range or import more");
    }
    return {};
}

Expected<double> measured_average(const Study& study, const Channel& channel,
                                  const LevelAnchor& anchor) {
    const Curve* measured = measured_of(study, channel);
    if (measured == nullptr) {
        return refuse("", "the level follows the measured curve, but the channel has none",
                      "choose a measured curve, or a fixed level");
    }
    if (auto ok = check_covered(*measured, anchor); !ok) {
        return tl::unexpected(ok.error());
    }
    return mean_level_db(*measured, anchor.from_hz, anchor.to_hz);
}

// The range lies within the curve.
double lowest_in(const Curve& curve, double from_hz, double to_hz) {
    const CurveReader reader(curve); // straight between corners, so a corner or an end is lowest
    double lowest = std::min(reader.magnitude_db_at(from_hz), reader.magnitude_db_at(to_hz));
    for (std::size_t i = 0; i < curve.frequency_hz.size(); ++i) {
        if (curve.frequency_hz[i] >= from_hz && curve.frequency_hz[i] <= to_hz) {
            lowest = std::min(lowest, curve.magnitude_db[i]);
        }
    }
    return lowest;
}

Expected<double> lowest_measured(const Study& study, const Goal& goal) {
    const LevelAnchor& anchor = goal.target.anchor;
    std::optional<double> lowest;
    for (const auto& channel : study.channels) {
        const Curve* measured = channel->goal == goal.id ? measured_of(study, *channel) : nullptr;
        if (measured == nullptr) {
            continue;
        }
        if (auto ok = check_covered(*measured, anchor); !ok) {
            return tl::unexpected(within(channel->id, ok.error()));
        }
        const double level = lowest_in(*measured, anchor.from_hz, anchor.to_hz);
        lowest = std::min(level, lowest.value_or(level));
    }
    if (!lowest) {
        return refuse("",
                      "the level follows the lowest measured point, but no channel that shares the "
                      "goal has a measured curve",
                      "choose measured curves or a fixed level");
    }
    return *lowest;
}

Expected<double> anchor_db(const Study& study, const Channel& channel, const Goal& goal) {
    const LevelAnchor& anchor = goal.target.anchor;
    Expected<double> level = 0.0;
    if (anchor.kind == LevelAnchor::Kind::measured_average) {
        level = measured_average(study, channel, anchor);
    } else if (anchor.kind == LevelAnchor::Kind::lowest_measured) {
        level = lowest_measured(study, goal);
    }
    return level.map([&](double db) { return db + anchor.offset_db; });
}

template <class T>
void add_by_id(const std::vector<SharedValue<T>>& items, const std::string& id,
               std::vector<SharedValue<T>>& out) {
    const auto found =
        std::ranges::find_if(items, [&](const auto& item) { return item->id == id; });
    if (!id.empty() && found != items.end()) {
        out.push_back(*found);
    }
}

template <class T>
bool all_same(const std::vector<SharedValue<T>>& a, const std::vector<SharedValue<T>>& b) {
    return std::ranges::equal(a, b, [](const auto& x, const auto& y) { return x.same_as(y); });
}

} // namespace

Expected<TargetCurve> level_target(const Study& study, const Channel& channel, const Goal& goal,
                                   DesignStore& store) {
    if (auto ok = check(goal.target); !ok) {
        return tl::unexpected(within("target", ok.error()));
    }
    const auto anchor = anchor_db(study, channel, goal);
    if (!anchor) {
        return tl::unexpected(within("target.anchor", anchor.error()));
    }
    if (!goal.target.source) {
        return TargetCurve(
            goal.target.house ? line_of(*goal.target.house) : TargetLine(goal.target), *anchor);
    }
    const auto curve = source_curve(study, channel, *goal.target.source, store);
    if (!curve) {
        return tl::unexpected(within("target.source", curve.error()));
    }
    return TargetCurve(*curve, *anchor);
}

bool Targets::Ingredients::same_as(const Ingredients& other) const {
    return sample_rate_hz == other.sample_rate_hz && all_same(curves, other.curves)
           && all_same(channels, other.channels);
}

Targets::Ingredients Targets::ingredients(const Study& study, const Channel& channel,
                                          const Target& target) {
    Ingredients all;
    all.sample_rate_hz = study.sample_rate_hz;
    if (target.anchor.kind == LevelAnchor::Kind::measured_average) {
        add_by_id(study.curves, channel.measured, all.curves);
    } else if (target.anchor.kind == LevelAnchor::Kind::lowest_measured) {
        for (const auto& other : study.channels) {
            if (other->goal == channel.goal) {
                add_by_id(study.curves, other->measured, all.curves);
            }
        }
    }
    if (target.source) {
        add_by_id(study.curves, target.source->curve, all.curves);
        add_by_id(study.channels, target.source->channel, all.channels);
        if (const Channel* other = channel_of(study, target.source->channel)) {
            add_by_id(study.curves, other->measured, all.curves);
        }
    }
    return all;
}

std::shared_ptr<const WorkedGoal> Targets::goal_of(const Study& study, const Channel& channel,
                                                   DesignStore& store) {
    const auto goal =
        std::ranges::find_if(study.goals, [&](const auto& g) { return g->id == channel.goal; });
    if (channel.goal.empty() || goal == study.goals.end()) {
        return nullptr;
    }
    const LevelOf level_of =
        measured_of(study, channel) != nullptr ? LevelOf::measured_and_chain : LevelOf::chain_alone;
    Ingredients now = ingredients(study, channel, (*goal)->target);
    const auto kept = kept_.find(channel.id);
    const bool level_holds = kept != kept_.end() && kept->second.target == (*goal)->target
                             && kept->second.made_of.same_as(now);
    if (level_holds && kept->second.goal.same_as(*goal) && kept->second.level_of == level_of) {
        return kept->second.worked_goal;
    }
    auto level = level_holds ? kept->second.level : level_target(study, channel, **goal, store);
    auto ready =
        std::make_shared<const WorkedGoal>(worked(**goal, level, study.sample_rate_hz, level_of));
    kept_.insert_or_assign(channel.id, Kept{(*goal)->target, std::move(now), std::move(level),
                                            *goal, level_of, ready});
    return ready;
}

} // namespace syntonon
