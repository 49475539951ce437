// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/targets.h"

#include "core/base/units.h"
#include "core/curve/smoothing.h"
#include "core/goal/corridor.h"
#include "core/goal/prediction.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numeric>

namespace syntonon {
namespace {

constexpr double points_an_octave = 192; // of a target that follows a chain
constexpr double smoothed_points_an_octave = 48;
constexpr double least_hz = 5;
constexpr double most_followed_hz = 1e6; // of an analog chain
constexpr std::size_t dense = 4096; // a denser measured curve is thinned even without smoothing

// The level of the chain, times the measured curve where there is one, as a curve.
Expected<Curve> curve_of_chain(const Filter& chain, const CurveReader* measured, const Axis& axis) {
    const Prediction prediction(chain, measured, axis);
    const double low = std::max(least_hz, prediction.low_hz());
    const double high =
        axis.is_analog() ? std::min(prediction.high_hz(), most_followed_hz) : prediction.high_hz();
    std::vector<double> hz = prediction.telling_frequencies(low, high);
    const double ratio = std::exp2(1 / points_an_octave);
    for (double f = low; f < high; f *= ratio) {
        hz.push_back(f);
    }
    const auto grid = FrequencyGrid::from_frequencies(std::move(hz), axis);
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

struct Followed {
    Expected<Curve> curve;
    std::vector<DesignJob> jobs = {};
    bool waits = false;
};

Followed refused(Problem problem) {
    return {tl::unexpected(std::move(problem))};
}

Expected<Curve> prediction_of(const Study& study, const Channel& channel, const Filter& chain,
                              Briefs& briefs) {
    return briefs.measured_of(study, channel).and_then([&](const SharedMeasured& measured) {
        return curve_of_chain(chain, measured != nullptr ? &measured->reader : nullptr,
                              axis_of(study, channel));
    });
}

Followed followed(const Study& study, const FoundSource& found, const TargetSource& source,
                  Briefs& briefs) {
    if (found.curve != nullptr) {
        return {*found.curve};
    }
    const Channel& channel = *found.channel;
    const View view{found.take != nullptr ? found.take->id : std::string()};
    DesignedChain chain = briefs.design(study, channel, view);
    const DesignedStage* stage =
        found.stage != nullptr ? &chain.stages.at(found.stage->id) : nullptr;
    if (stage != nullptr ? stage->is_waiting : !chain.waits_for.empty()) {
        const std::string& name = stage != nullptr ? spoken_name_of(*found.stage) : chain.waits_for;
        return {tl::unexpected(being_designed(channel.name + ": " + name)), std::move(chain.jobs),
                true};
    }
    if (stage != nullptr) {
        return {stage->filter ? curve_of_chain(*stage->filter, nullptr, axis_of(study, channel))
                              : tl::unexpected(stage->filter.error()),
                std::move(chain.jobs)};
    }
    if (!chain.problems.empty()) {
        return refused(within(source.channel, chain.problems.front()));
    }
    return {prediction_of(study, channel, chain.filter, briefs), std::move(chain.jobs)};
}

Expected<Curve> thinned(const Curve& curve, const TargetSource& source) {
    if (curve.frequency_hz.empty()) {
        return refuse("", "what the target follows has no level at any frequency up to Nyquist",
                      "follow something else");
    }
    if (source.smoothing_oct == 0 && curve.frequency_hz.size() <= dense) {
        return curve;
    }
    return smoothed(curve, {SmoothingKind::octave, source.smoothing_oct},
                    source.smoothing_oct > 0 ? smoothed_points_an_octave : points_an_octave);
}

Followed source_curve(const Study& study, const Channel& channel, const TargetSource& source,
                      Briefs& briefs) {
    if (source.kind == TargetSource::Kind::channel && source.channel == channel.id) {
        return refused({"channel",
                        "the target would be the channel's own prediction, met by anything",
                        "follow another channel or a take"});
    }
    const auto found = find_source(study, source);
    if (!found) {
        return refused(found.error());
    }
    Followed result = followed(study, *found, source, briefs);
    result.curve =
        result.curve.and_then([&](const Curve& curve) { return thinned(curve, source); });
    return result;
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

// Null where it is missing: that is told elsewhere.
SharedMeasured measured_or_none(const Study& study, const Channel& channel, Briefs& briefs) {
    return briefs.measured_of(study, channel).value_or(nullptr);
}

Expected<double> measured_average(const Study& study, const Channel& channel,
                                  const LevelAnchor& anchor, Briefs& briefs) {
    const auto measured = measured_or_none(study, channel, briefs);
    if (measured == nullptr) {
        return refuse("", "the level follows the measured curve, but the channel has none",
                      "choose a measured curve, or a fixed level");
    }
    if (auto ok = check_covered(*measured->curve, anchor); !ok) {
        return tl::unexpected(ok.error());
    }
    return mean_level_db(*measured->curve, anchor.from_hz, anchor.to_hz);
}

// The range lies within the curve.
double lowest_in(const Measured& measured, double from_hz, double to_hz) {
    const Curve& curve = *measured.curve;
    const CurveReader& reader =
        measured.reader; // straight between corners: one, or an end, is lowest
    double lowest = std::min(reader.magnitude_db_at(from_hz), reader.magnitude_db_at(to_hz));
    for (std::size_t i = 0; i < curve.frequency_hz.size(); ++i) {
        if (curve.frequency_hz[i] >= from_hz && curve.frequency_hz[i] <= to_hz) {
            lowest = std::min(lowest, curve.magnitude_db[i]);
        }
    }
    return lowest;
}

// Of every channel that shares the goal and was measured: what `level_of` says of it.
template <class LevelOf>
Expected<std::vector<double>> levels_sharing(const Study& study, const Goal& goal, Briefs& briefs,
                                             LevelOf level_of) {
    std::vector<double> levels;
    for (const auto& channel : study.channels) {
        const auto measured =
            channel->goal == goal.id ? measured_or_none(study, *channel, briefs) : nullptr;
        if (measured == nullptr) {
            continue;
        }
        if (auto ok = check_covered(*measured->curve, goal.target.anchor); !ok) {
            return tl::unexpected(within(channel->id, ok.error()));
        }
        levels.push_back(level_of(*measured));
    }
    if (levels.empty()) {
        return refuse("",
                      "the level follows measured curves, but no channel that shares the goal has "
                      "one",
                      "choose measured curves or a fixed level");
    }
    return levels;
}

Expected<double> lowest_measured(const Study& study, const Goal& goal, Briefs& briefs) {
    const LevelAnchor& anchor = goal.target.anchor;
    return levels_sharing(
               study, goal, briefs,
               [&](const Measured& of) { return lowest_in(of, anchor.from_hz, anchor.to_hz); })
        .map([](const std::vector<double>& levels) { return std::ranges::min(levels); });
}

Expected<double> common_average(const Study& study, const Goal& goal, Briefs& briefs) {
    const LevelAnchor& anchor = goal.target.anchor;
    return levels_sharing(study, goal, briefs,
                          [&](const Measured& of) {
                              return *mean_level_db(*of.curve, anchor.from_hz, anchor.to_hz);
                          })
        .map([](const std::vector<double>& levels) {
            return std::accumulate(levels.begin(), levels.end(), 0.0)
                   / static_cast<double>(levels.size());
        });
}

Expected<double> anchor_db(const Study& study, const Channel& channel, const Goal& goal,
                           Briefs& briefs) {
    const LevelAnchor& anchor = goal.target.anchor;
    Expected<double> level = 0.0;
    if (anchor.kind == LevelAnchor::Kind::measured_average) {
        level = measured_average(study, channel, anchor, briefs);
    } else if (anchor.kind == LevelAnchor::Kind::lowest_measured) {
        level = lowest_measured(study, goal, briefs);
    } else if (anchor.kind == LevelAnchor::Kind::common_average) {
        level = common_average(study, goal, briefs);
    }
    return level.map([&](double db) { return db + anchor.offset_db; });
}

} // namespace

LevelTarget level_target(const Study& study, const Channel& channel, const Goal& goal,
                         Briefs& briefs) {
    if (auto ok = check(goal.target); !ok) {
        return {tl::unexpected(within("target", ok.error()))};
    }
    const auto anchor = anchor_db(study, channel, goal, briefs);
    if (!anchor) {
        return {tl::unexpected(within("target.anchor", anchor.error()))};
    }
    if (!goal.target.source) {
        return {TargetCurve(
            goal.target.house ? line_of(*goal.target.house) : TargetLine(goal.target), *anchor)};
    }
    Followed source = source_curve(study, channel, *goal.target.source, briefs);
    LevelTarget target{{}, std::move(source.jobs), source.waits};
    if (source.curve) {
        target.level = TargetCurve(*source.curve, *anchor);
    } else {
        target.level = tl::unexpected(within("target.source", source.curve.error()));
    }
    return target;
}

} // namespace syntonon
