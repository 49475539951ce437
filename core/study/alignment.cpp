// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/alignment.h"

#include "core/study/finish_designs.h"

#include "core/curve/phase_parts.h"
#include "core/math/median.h"
#include "core/study/chain.h"
#include "core/study/kinds.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr const char* level_name = "Align level";
constexpr const char* delay_name = "Align delay";

std::vector<double> across(const AlignRange& range) {
    constexpr int points = 97;
    std::vector<double> hz;
    for (int i = 0; i < points; ++i) {
        hz.push_back(range.from_hz
                     * std::pow(range.to_hz / range.from_hz, i / static_cast<double>(points - 1)));
    }
    return hz;
}

struct ChainMeans {
    double level_db = 0, delay_s = 0;
};
ChainMeans means_of(const Filter& chain, const Axis& axis, const AlignRange& range) {
    ChainMeans means;
    const std::vector<double> all = across(range);
    for (const double hz : all) {
        const ResponsePoint at = chain.response_at(hz, axis);
        means.level_db += at.magnitude_db;
        // Where the magnitude vanishes there is no delay.
        means.delay_s += std::isfinite(at.group_delay_samples)
                             ? at.group_delay_samples / axis.sample_rate_hz
                             : 0;
    }
    means.level_db /= static_cast<double>(all.size());
    means.delay_s /= static_cast<double>(all.size());
    return means;
}

template <class Spec>
const Spec* find_named(const Channel& channel, const char* name) {
    for (const auto& stage : channel.stages) {
        if (stage->name == name && std::holds_alternative<Spec>(*stage->spec)) {
            return &std::get<Spec>(*stage->spec);
        }
    }
    return nullptr;
}

// The spec of the stage of that kind and name, which is there afterwards.
template <class Spec>
Spec& spec_named(Channel& channel, const char* name) {
    for (auto& stage : channel.stages) {
        if (stage->name == name && std::holds_alternative<Spec>(*stage->spec)) {
            return std::get<Spec>(stage.edit().spec.edit());
        }
    }
    Stage stage;
    stage.name = name;
    stage.spec = Spec();
    give_fresh_ids(stage, channel.stages);
    channel.stages.emplace_back(std::move(stage));
    return std::get<Spec>(channel.stages.back().edit().spec.edit());
}

std::optional<double> sum_of(const std::optional<double>& more, double scale, double now) {
    return more ? std::optional(now + scale * *more) : std::nullopt;
}

double greatest_of(const std::vector<std::optional<double>>& values) {
    std::optional<double> greatest;
    for (const auto& value : values) {
        greatest = value ? std::max(greatest.value_or(*value), *value) : greatest;
    }
    return greatest.value_or(0);
}

double least_of(const std::vector<std::optional<double>>& values) {
    std::optional<double> least;
    for (const auto& value : values) {
        least = value ? std::min(least.value_or(*value), *value) : least;
    }
    return least.value_or(0);
}

// A stage that would do nothing is not added.
void set_gain(SharedValue<Channel>& channel, double gain_db) {
    constexpr double places = 100, half_step = 0.5 / places;
    const auto* now = find_named<GainSpec>(*channel, level_name);
    if (std::abs(gain_db - (now != nullptr ? now->gain_db : 0)) > half_step) {
        spec_named<GainSpec>(channel.edit(), level_name).gain_db =
            std::round(gain_db * places) / places;
    }
}

void set_delay(SharedValue<Channel>& channel, double samples, double sample_rate_hz) {
    const auto* now = find_named<DelaySpec>(*channel, delay_name);
    constexpr double half_step = 0.5;
    if (std::abs(samples - (now != nullptr ? samples_of(*now, sample_rate_hz) : 0)) > half_step) {
        auto& delay = spec_named<DelaySpec>(channel.edit(), delay_name);
        delay.unit = DelayUnit::samples;
        delay.value = std::max(0.0, std::round(samples));
    }
}

} // namespace

Expected<void> check(const AlignRange& range) {
    if (!(range.from_hz > 0) || !std::isfinite(range.from_hz)) {
        return refuse("from_hz", fmt::format("{} Hz is not positive", range.from_hz),
                      "give one above 0");
    }
    if (!(range.to_hz > range.from_hz) || !std::isfinite(range.to_hz)) {
        return refuse("to_hz",
                      fmt::format("{} Hz does not lie above {} Hz", range.to_hz, range.from_hz),
                      "give one above it");
    }
    return {};
}

std::optional<double> arrival_of(const Curve& curve, const AlignRange& range) {
    if (curve.delay_s != 0 || curve.origin) {
        return curve.has_phase() || (curve.origin && curve.origin->measured->is_impulse())
                   ? std::optional(curve.delay_s)
                   : std::nullopt;
    }
    constexpr double above = 2.0001; // any rate whose half lies above the curve
    const auto parts = curve.has_phase() ? phase_parts(curve, above * curve.high_hz())
                                         : Expected<PhaseParts>(PhaseParts());
    if (!parts) {
        return std::nullopt;
    }
    std::vector<double> delays;
    for (std::size_t i = 0; i < parts->excess_delay_s.size(); ++i) {
        if (curve.frequency_hz[i] >= range.from_hz && curve.frequency_hz[i] <= range.to_hz) {
            delays.push_back(parts->excess_delay_s[i]);
        }
    }
    return delays.empty() ? std::nullopt : std::optional(median_of(std::move(delays)));
}

Standing standing_of(const SharedMeasured& measured, const Filter& chain, const Axis& axis,
                     const AlignRange& range) {
    Standing standing;
    if (measured == nullptr) {
        standing.missing = "not measured";
        return standing;
    }
    const ChainMeans chain_means = means_of(chain, axis, range);
    const auto level = mean_level_db(*measured->curve, range.from_hz, range.to_hz);
    if (level) {
        standing.level_db = *level + chain_means.level_db;
    } else {
        standing.missing = level.error().reason + ": " + level.error().way_out;
    }
    double sum = 0, weights = 0;
    for (const MeasuredPosition& position : measured->positions) {
        if (position.weight == 0) {
            continue;
        }
        const auto arrival = arrival_of(*position.curve, range);
        if (!arrival) {
            standing.missing =
                fmt::format("{} has no phase, so no arrival: import its impulse response, or a "
                            "response with phase",
                            position.curve->name);
            return standing;
        }
        sum += position.weight * *arrival;
        weights += position.weight;
    }
    standing.arrival_s = sum / weights + chain_means.delay_s;
    return standing;
}

void compare(std::span<Standing> standings) {
    std::optional<double> quietest, latest;
    for (const Standing& standing : standings) {
        if (standing.level_db) {
            quietest = std::min(quietest.value_or(*standing.level_db), *standing.level_db);
        }
        if (standing.arrival_s) {
            latest = std::max(latest.value_or(*standing.arrival_s), *standing.arrival_s);
        }
    }
    for (Standing& standing : standings) {
        standing.gain_db =
            standing.level_db ? std::optional(*quietest - *standing.level_db) : std::nullopt;
        standing.delay_s =
            standing.arrival_s ? std::optional(*latest - *standing.arrival_s) : std::nullopt;
    }
}

void align(Study& study, std::span<const Standing> standings) {
    // By channel, what its stages should say; nothing: not known.
    std::vector<std::optional<double>> gains_db, delays;
    for (std::size_t i = 0; i < standings.size(); ++i) {
        const Channel& channel = *study.channels[i];
        const auto* gain = find_named<GainSpec>(channel, level_name);
        const auto* delay = find_named<DelaySpec>(channel, delay_name);
        const double rate_hz = study.sample_rate_hz;
        gains_db.push_back(sum_of(standings[i].gain_db, 1, gain != nullptr ? gain->gain_db : 0));
        delays.push_back(sum_of(standings[i].delay_s, rate_hz,
                                delay != nullptr ? samples_of(*delay, rate_hz) : 0));
    }
    const double cut_db = greatest_of(gains_db), waits = least_of(delays);
    for (std::size_t i = 0; i < standings.size(); ++i) {
        if (gains_db[i]) {
            set_gain(study.channels[i], *gains_db[i] - cut_db);
        }
        if (delays[i]) {
            set_delay(study.channels[i], *delays[i] - waits, study.sample_rate_hz);
        }
    }
}

void align_channels(Study& study, std::span<const std::string> ids, Briefs& briefs,
                    const AlignRange& range) {
    std::vector<ChannelView> views;
    std::ranges::transform(ids, std::back_inserter(views), [](const std::string& id) {
        return ChannelView{id, {}};
    });
    finish_designs(study, views, briefs);
    std::vector<Standing> standings;
    for (const auto& channel : study.channels) {
        const bool counts = std::ranges::count(ids, channel->id) > 0;
        const auto measured = briefs.measured_of(study, *channel);
        standings.push_back(counts && measured
                                ? standing_of(*measured, briefs.design(study, *channel, {}).filter,
                                              axis_of(study, *channel), range)
                                : Standing());
    }
    compare(standings);
    align(study, standings);
}

} // namespace syntonon
