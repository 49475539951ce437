// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/analysis.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

// Between the last two points, where a linear grid is closest in ratio.
double grid_ratio(const FrequencyGrid& grid) {
    return grid.frequency_hz()[grid.size() - 1] / grid.frequency_hz()[grid.size() - 2];
}

// The chain on the drawing grid, from the stages' kept responses.
Response sum_of_stages(const Channel& channel, const ChannelAnalysis& analysis) {
    Response sum(analysis.grid->size());
    for (const auto& stage : channel.stages) {
        const StageAnalysis& designed = *analysis.stages.at(stage->id);
        if (stage->enabled && designed.filter) {
            sum.follow_with(designed.response);
        }
    }
    return sum;
}

// Between neighbours of what is drawn more would not be seen.
constexpr double most_drawn_ripples = 1024;

// The chain at the points that tell more than the grid does, which move with every drag and so are
// not kept.
Trace between_points(const Filter& chain, const FrequencyGrid& drawing) {
    const auto frequencies = drawing.frequency_hz();
    const TellingRange range{std::max(frequencies.front(), frequencies.back() * 1e-9),
                             frequencies.back(), grid_ratio(drawing), drawing.sample_rate_hz(),
                             most_drawn_ripples};
    const auto grid =
        FrequencyGrid::from_frequencies(chain.telling_hz(range), drawing.sample_rate_hz());
    Trace trace;
    if (grid) {
        trace.frequency_hz.assign(grid->frequency_hz().begin(), grid->frequency_hz().end());
        trace.response = chain.response(*grid);
    }
    return trace;
}

void append_point(Trace& to, const Response& from, double hz, std::size_t i) {
    to.frequency_hz.push_back(hz);
    to.response.magnitude_db.push_back(from.magnitude_db[i]);
    to.response.phase_rad.push_back(from.phase_rad[i]);
    to.response.group_delay_samples.push_back(from.group_delay_samples[i]);
}

Trace merged(std::span<const double> grid_hz, const Response& on_grid, const Trace& extra) {
    Trace all;
    std::size_t k = 0;
    for (std::size_t i = 0; i < grid_hz.size(); ++i) {
        for (; k < extra.frequency_hz.size() && extra.frequency_hz[k] < grid_hz[i]; ++k) {
            append_point(all, extra.response, extra.frequency_hz[k], k);
        }
        if (k < extra.frequency_hz.size() && extra.frequency_hz[k] == grid_hz[i]) {
            ++k;
        }
        append_point(all, on_grid, grid_hz[i], i);
    }
    return all;
}

using MeasuredCurve = std::optional<SharedValue<Curve>>;

bool same(const MeasuredCurve& a, const MeasuredCurve& b) {
    return a.has_value() == b.has_value() && (!a || a->same_as(*b));
}

MeasuredCurve measured_curve(const Study& study, const Channel& channel) {
    const auto curve = std::ranges::find_if(
        study.curves, [&](const auto& c) { return c->id == channel.measured; });
    return channel.measured.empty() || curve == study.curves.end() ? std::nullopt
                                                                   : MeasuredCurve(*curve);
}

std::optional<SharedValue<Channel>> shared_channel(const Study& study, const Channel& channel) {
    const auto found =
        std::ranges::find_if(study.channels, [&](const auto& c) { return &*c == &channel; });
    return found == study.channels.end() ? std::nullopt : std::optional(*found);
}

} // namespace

Trace detail_of(const Filter& chain, double low_hz, double high_hz, std::size_t points, bool linear,
                double sample_rate_hz) {
    const double low = std::max(low_hz, linear ? 0.0 : high_hz * 1e-9);
    const double high = std::min(high_hz, nyquist_hz(sample_rate_hz));
    Trace trace;
    if (!(low < high)) {
        return trace;
    }
    auto grid = linear ? FrequencyGrid::linear(low, high, points, sample_rate_hz)
                       : FrequencyGrid::logarithmic(low, high, points, sample_rate_hz);
    if (!grid) {
        return trace;
    }
    return merged(grid->frequency_hz(), chain.response(*grid), between_points(chain, *grid));
}

LevelTrace prediction_of(const Trace& total, const CurveReader* measured) {
    LevelTrace predicted;
    for (std::size_t i = 0; i < total.frequency_hz.size(); ++i) {
        const double hz = total.frequency_hz[i];
        if (measured == nullptr || measured->covers(hz)) {
            predicted.frequency_hz.push_back(hz);
            predicted.level_db.push_back(
                total.response.magnitude_db[i]
                + (measured != nullptr ? measured->magnitude_db_at(hz) : 0.0));
        }
    }
    return predicted;
}

void AnalysisCache::use_sample_rate(double sample_rate_hz) {
    if (grid_ && grid_->sample_rate_hz() == sample_rate_hz) {
        return;
    }
    last_.clear();
    takes_.clear();
    const double high = nyquist_hz(sample_rate_hz);
    const double low = std::min(lowest_hz, high / 100);
    // The ends are in order by construction, so there is always a grid.
    grid_ = std::make_shared<const FrequencyGrid>(
        *FrequencyGrid::logarithmic(low, high, grid_points, sample_rate_hz));
}

std::shared_ptr<const StageAnalysis>
AnalysisCache::analyse_stage(const std::string& id, const DesignedStage& stage,
                             const ChannelAnalysis* last) const {
    if (last != nullptr) {
        const auto kept = last->stages.find(id);
        if (kept != last->stages.end() && kept->second->filter == stage.filter) {
            // Another spec may give an equal filter, but its working tells of another way.
            const bool same = !stage.filter || kept->second->filter->is_same_as(*stage.filter);
            return same ? kept->second
                        : std::make_shared<StageAnalysis>(
                            StageAnalysis{stage, kept->second->response});
        }
    }
    auto analysis = std::make_shared<StageAnalysis>(StageAnalysis{stage, {}});
    if (analysis->filter) {
        analysis->response = analysis->filter->response(*grid_);
    }
    return analysis;
}

const CurveReader* AnalysisCache::reader_of(const MeasuredCurve& measured) {
    if (!measured) {
        return nullptr;
    }
    const std::string& id = (*measured)->id;
    const auto kept = readers_.find(id);
    if (kept != readers_.end() && kept->second.curve.same_as(*measured)) {
        return kept->second.reader.get();
    }
    auto reader = std::make_shared<const CurveReader>(**measured);
    const CurveReader* result = reader.get();
    readers_.insert_or_assign(id, KeptReader{*measured, std::move(reader)});
    return result;
}

std::shared_ptr<const TakeAnalysis> AnalysisCache::analyse_take(const Channel& channel,
                                                                const SharedValue<Take>& take,
                                                                const MeasuredCurve& measured,
                                                                const CurveReader* reader) {
    const std::string key = channel.id + "/" + take->id;
    const auto kept = takes_.find(key);
    if (kept != takes_.end() && kept->second.take.same_as(take)
        && same(kept->second.measured, measured)) {
        return kept->second.analysis;
    }
    auto analysis = std::make_shared<TakeAnalysis>();
    const DesignedChain chain =
        design_chain(take->stages, brief_at(grid_->sample_rate_hz()), *store_);
    if (!chain.problems.empty()) {
        analysis->problem = chain.problems.front();
    }
    if (!analysis->problem) {
        analysis->chain = chain.filter;
        analysis->total = merged(grid_->frequency_hz(), analysis->chain.response(*grid_),
                                 between_points(analysis->chain, *grid_));
        analysis->predicted = prediction_of(analysis->total, reader);
    }
    takes_.insert_or_assign(key, KeptTake{take, measured, analysis});
    return analysis;
}

void AnalysisCache::design_stages(ChannelAnalysis& analysis, const Channel& channel,
                                  const ChannelAnalysis* last) {
    DesignedChain chain = design_chain(channel.stages, brief_at(grid_->sample_rate_hz()), *store_);
    for (const auto& [id, stage] : chain.stages) {
        analysis.stages.emplace(id, analyse_stage(id, stage, last));
    }
    analysis.chain = std::move(chain.filter);
    analysis.problems = std::move(chain.problems);
}

Verdict AnalysisCache::verdict_of(const Study& study, const Channel& channel,
                                  const ChannelAnalysis& analysis, const CurveReader* measured) {
    const Goal* goal = analysis.goal != nullptr ? analysis.goal->goal.get() : nullptr;
    if (!analysis.problems.empty()) {
        return undecided_verdict(goal, to_text(analysis.problems.front()));
    }
    const bool goal_is_missing = !channel.goal.empty() && goal == nullptr;
    const bool curve_is_missing = !channel.measured.empty() && measured == nullptr;
    if (goal_is_missing || curve_is_missing) {
        return undecided_verdict(goal,
                                 fmt::format("the {} “{}” is not in the study; choose another one",
                                             goal_is_missing ? "goal" : "measured curve",
                                             goal_is_missing ? channel.goal : channel.measured));
    }
    const Prediction prediction(analysis.chain, measured, study.sample_rate_hz);
    return analysis.goal != nullptr ? judge(*analysis.goal, prediction) : judge(goal, prediction);
}

std::shared_ptr<const ChannelAnalysis> AnalysisCache::analyse(const Study& study,
                                                              const Channel& channel) {
    use_sample_rate(study.sample_rate_hz);
    const auto shared = shared_channel(study, channel);
    const MeasuredCurve measured = measured_curve(study, channel);
    auto goal = targets_.goal_of(study, channel, *store_);
    const auto kept = last_.find(channel.id);
    const bool known = kept != last_.end();
    if (known && shared && kept->second.channel && kept->second.channel->same_as(*shared)
        && same(kept->second.measured, measured) && kept->second.goal == goal) {
        return kept->second.analysis;
    }
    auto analysis = std::make_shared<ChannelAnalysis>();
    analysis->grid = grid_;
    analysis->goal = goal;
    design_stages(*analysis, channel, known ? kept->second.analysis.get() : nullptr);
    analysis->total = merged(grid_->frequency_hz(), sum_of_stages(channel, *analysis),
                             between_points(analysis->chain, *grid_));
    const CurveReader* reader = reader_of(measured);
    analysis->predicted = prediction_of(analysis->total, reader);
    for (const auto& take : channel.takes) {
        analysis->takes.push_back(analyse_take(channel, take, measured, reader));
    }
    analysis->verdict = verdict_of(study, channel, *analysis, reader);
    analysis->cost = analysis->chain.cost();
    analysis->latency_samples = analysis->chain.latency_samples();
    last_.insert_or_assign(channel.id, Kept{shared, measured, std::move(goal), analysis});
    return analysis;
}

ChannelPoint AnalysisCache::at(const Study& study, const Channel& channel,
                               const ChannelAnalysis& analysis, double hz) {
    ChannelPoint point;
    point.chain = analysis.chain.response_at(hz, study.sample_rate_hz);
    const CurveReader* measured = reader_of(measured_curve(study, channel));
    if (measured != nullptr && measured->covers(hz)) {
        point.measured_db = measured->magnitude_db_at(hz);
    }
    if (measured == nullptr || point.measured_db) {
        point.predicted_db = point.chain.magnitude_db + point.measured_db.value_or(0.0);
    }
    if (analysis.goal != nullptr && analysis.goal->level
        && is_stated(analysis.goal->goal->target)) {
        point.target_db = analysis.goal->level->value_at(hz);
    }
    for (const auto& take : analysis.takes) {
        std::optional<double> level;
        if (!take->problem && (measured == nullptr || point.measured_db)) {
            level = point.measured_db.value_or(0.0)
                    + take->chain.response_at(hz, study.sample_rate_hz).magnitude_db;
        }
        point.takes_db.push_back(level);
    }
    return point;
}

} // namespace syntonon
