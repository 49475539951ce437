// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/analysis.h"

#include "core/base/units.h"
#include "core/study/company.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <iterator>

namespace syntonon {
namespace {

// The chain on the drawing grid, from the stages' kept responses.
Response sum_of_stages(const Chain& chain, const ChannelAnalysis& analysis) {
    Response sum(analysis.grid->size());
    for (const auto& stage : chain) {
        const StageAnalysis& designed = *analysis.stages.at(stage->id);
        if (stage->enabled && designed.filter) {
            if (stands_for_above(stage->spec)) {
                sum = Response(analysis.grid->size());
            }
            sum.follow_with(designed.response);
        }
    }
    return sum;
}

const CurveReader* reader_of(const SharedMeasured& measured) {
    return measured != nullptr ? &measured->reader : nullptr;
}

std::optional<SharedValue<Channel>> shared_channel(const Study& study, const Channel& channel) {
    const auto found =
        std::ranges::find_if(study.channels, [&](const auto& c) { return &*c == &channel; });
    return found == study.channels.end() ? std::nullopt : std::optional(*found);
}

} // namespace

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
    const Axis analog(sample_rate_hz, Domain::analog);
    analog_grid_ = std::make_shared<const FrequencyGrid>(
        *FrequencyGrid::logarithmic(low, high * analog_reach, grid_points, analog));
}

std::shared_ptr<const StageAnalysis> AnalysisCache::analyse_stage(const std::string& id,
                                                                  const DesignedStage& stage,
                                                                  const ChannelAnalysis* last,
                                                                  const FrequencyGrid& grid) const {
    if (last != nullptr) {
        const auto kept = last->stages.find(id);
        if (kept != last->stages.end() && kept->second->filter == stage.filter) {
            // Another spec may give an equal filter, but its working tells of another way.
            const bool same = (!stage.filter || kept->second->filter->is_same_as(*stage.filter))
                              && kept->second->is_waiting == stage.is_waiting
                              && stage.brief == nullptr;
            return same ? kept->second
                        : std::make_shared<StageAnalysis>(
                            StageAnalysis{stage, kept->second->response});
        }
    }
    auto analysis = std::make_shared<StageAnalysis>(StageAnalysis{stage, {}});
    if (analysis->filter) {
        analysis->response = analysis->filter->response(grid);
    }
    return analysis;
}

std::shared_ptr<const TakeAnalysis> AnalysisCache::analyse_take(const Study& study,
                                                                const Channel& channel,
                                                                const SharedValue<Take>& take,
                                                                const ChannelAnalysis& of) {
    const View view{take->id};
    const auto kept = takes_.find({channel.id, view});
    const auto looks_at_goal = [&] {
        return needs_of(take->stages, briefs_.store(), Counting::what_is_on).wished;
    };
    if (kept != takes_.end() && kept->second.take.same_as(take)
        && kept->second.axis == of.grid->axis() && kept->second.measured == of.measured
        && kept->second.analysis->jobs.empty()
        && (kept->second.goal == of.goal || !looks_at_goal())) {
        return kept->second.analysis;
    }
    auto analysis = std::make_shared<TakeAnalysis>();
    DesignedChain chain = briefs_.design(study, channel, view);
    analysis->jobs = std::move(chain.jobs);
    if (!chain.problems.empty()) {
        analysis->problem = chain.problems.front();
    } else if (!chain.waits_for.empty()) {
        analysis->problem = being_designed(chain.waits_for);
    } else {
        analysis->chain = chain.filter;
        const FrequencyGrid& grid = *of.grid;
        analysis->total = trace_of(analysis->chain, analysis->chain.response(grid), grid);
        analysis->predicted = prediction_of(analysis->total, reader_of(of.measured));
    }
    takes_.insert_or_assign({channel.id, view},
                            KeptTake{take, of.grid->axis(), of.measured, of.goal, analysis});
    return analysis;
}

void AnalysisCache::add_takes(const Study& study, const Channel& channel,
                              ChannelAnalysis& analysis) {
    for (const auto& take : channel.takes) {
        analysis.takes.push_back(analyse_take(study, channel, take, analysis));
        const auto& jobs = analysis.takes.back()->jobs;
        analysis.jobs.insert(analysis.jobs.end(), jobs.begin(), jobs.end());
    }
}

void AnalysisCache::design_stages(const Study& study, const Channel& channel, const View& view,
                                  const ChannelAnalysis* last, ChannelAnalysis& analysis) {
    const auto last_filter = [last](const std::string& id) -> std::optional<Filter> {
        const StageAnalysis* stage = last != nullptr ? last->stage(id) : nullptr;
        return stage != nullptr && stage->filter ? std::optional(*stage->filter) : std::nullopt;
    };
    DesignedChain chain = briefs_.design(study, channel, view, last_filter);
    for (const auto& [id, stage] : chain.stages) {
        analysis.stages.emplace(id, analyse_stage(id, stage, last, *analysis.grid));
    }
    analysis.chain = std::move(chain.filter);
    analysis.problems = std::move(chain.problems);
    analysis.waits_for = std::move(chain.waits_for);
    std::ranges::move(chain.jobs, std::back_inserter(analysis.jobs));
}

namespace {

// A verdict looks at several places of every ripple in the ranges that it judges.
bool takes_long_to_judge(const JudgeJob& job) {
    constexpr double quick_ripples = 1500; // some 30 ms
    const double ripples_a_hz = job.chain.rippling_samples() / job.axis.sample_rate_hz;
    const double end_hz = job.axis.end_hz();
    double hz = 0;
    for (const CorridorRange& range : job.goal->goal->corridor) {
        hz += std::max(0.0, std::min(range.to_hz, end_hz) - range.from_hz);
    }
    hz += job.goal->goal->requirements.empty() ? 0 : end_hz;
    return !job.axis.is_analog() && hz * ripples_a_hz > quick_ripples;
}

const char* const being_judged = "it is being found: such a long filter takes a while to judge";

// Why there is no verdict yet; empty: it can be found.
std::string undecided_because(const Study& study, const Channel& channel,
                              const ChannelAnalysis& analysis,
                              const Expected<SharedMeasured>& measured) {
    if (!analysis.problems.empty()) {
        return to_text(within(place_of(study, channel), analysis.problems.front()));
    }
    if (!analysis.waits_for.empty()) {
        return to_text(being_designed(analysis.waits_for));
    }
    if (!channel.goal.empty() && analysis.goal == nullptr) {
        return fmt::format("the goal “{}” is not in the study; choose another one", channel.goal);
    }
    if (analysis.words != nullptr && analysis.words->problem) {
        return to_text(*analysis.words->problem);
    }
    return measured ? std::string() : to_text(within(place_of(study, channel), measured.error()));
}

const Filter& judged_chain(const ChannelAnalysis& analysis) {
    return analysis.words != nullptr ? analysis.words->chain : analysis.chain;
}

} // namespace

Verdict run(const JudgeJob& job) {
    Prediction prediction(job.chain, reader_of(job.measured), job.axis);
    prediction.keep_company(job.company);
    return syntonon::judge(*job.goal, prediction);
}

void AnalysisCache::take_verdict(const ChannelView& key, const JudgeJob& job, Verdict verdict) {
    const auto kept = last_.find(key);
    if (kept != last_.end() && kept->second.analysis->judging != nullptr
        && kept->second.analysis->judging->is_same_as(job)) {
        auto judged = std::make_shared<ChannelAnalysis>(*kept->second.analysis);
        judged->verdict = verdict;
        judged->judging = nullptr;
        kept->second.analysis = std::move(judged);
    }
    judged_.insert_or_assign(key, Judged{job, std::move(verdict)});
}

void AnalysisCache::judge(const ChannelView& key, const Goal* goal, Judging judging, JudgeJob job,
                          ChannelAnalysis& analysis) {
    const auto known = judged_.find(key);
    if (known != judged_.end() && known->second.job.is_same_as(job)) {
        analysis.verdict = known->second.verdict;
    } else if (judging == Judging::at_once || !takes_long_to_judge(job)) {
        analysis.verdict = run(job);
    } else {
        analysis.verdict = undecided_verdict(goal, being_judged);
        analysis.judging = std::make_shared<const JudgeJob>(std::move(job));
    }
}

namespace {

// Null stands for none on both sides.
template <class T>
bool is_held_in(const T* now, const std::shared_ptr<const T>& then) {
    return now == nullptr ? then == nullptr : then != nullptr && *now == *then;
}
template <class T>
std::shared_ptr<const T> held_copy(const T* now) {
    return now != nullptr ? std::make_shared<const T>(*now) : nullptr;
}

} // namespace

std::shared_ptr<const ChannelAnalysis> AnalysisCache::analyse(const Study& study,
                                                              const Channel& channel,
                                                              const View& view, Judging judging) {
    use_sample_rate(study.sample_rate_hz);
    const auto shared = shared_channel(study, channel);
    const auto measured = briefs_.measured_of(study, channel);
    GoalAnswer answer = briefs_.goal_of(study, channel);
    const auto kept = last_.find({channel.id, view});
    const bool known = kept != last_.end();
    std::vector<DesignJob> jobs_of_company;
    auto company = company_of(study, channel, answer.goal.get(), known ? &kept->second : nullptr,
                              jobs_of_company);
    const Delivery* delivery = delivery_of(study, view.words);
    const Processor* processor =
        delivery != nullptr ? processor_of(study, delivery->processor) : nullptr;
    if (known && is_held_in(delivery, kept->second.delivery)
        && is_held_in(processor, kept->second.processor) && shared && kept->second.channel
        && kept->second.channel->same_as(*shared) && measured && kept->second.measured == *measured
        && kept->second.goal == answer.goal && kept->second.analysis->jobs.empty()
        && kept->second.company == company) {
        if (const auto job = kept->second.analysis->judging;
            job != nullptr && judging == Judging::at_once) {
            take_verdict({channel.id, view}, *job, run(*job));
        }
        return kept->second.analysis;
    }
    auto analysis = std::make_shared<ChannelAnalysis>();
    analysis->grid = grid_of(channel);
    analysis->goal = answer.goal;
    analysis->measured = measured.value_or(nullptr);
    analysis->jobs = std::move(answer.jobs);
    std::ranges::move(jobs_of_company, std::back_inserter(analysis->jobs));
    const bool on_same_axis = known && kept->second.analysis->grid == analysis->grid;
    design_stages(study, channel, view, on_same_axis ? kept->second.analysis.get() : nullptr,
                  *analysis);
    analysis->total = trace_of(analysis->chain, sum_of_stages(chain_of(channel, view), *analysis),
                               *analysis->grid);
    analysis->predicted = prediction_of(analysis->total, reader_of(analysis->measured));
    add_takes(study, channel, *analysis);
    if (delivery != nullptr) {
        analysis->words =
            words_analysis({study, *delivery, channel, analysis->chain, *analysis->grid,
                            reader_of(analysis->measured)},
                           on_same_axis ? kept->second.analysis->words.get() : nullptr);
    }
    const Filter& judged = judged_chain(*analysis);
    const Goal* goal = analysis->goal != nullptr ? analysis->goal->goal.get() : nullptr;
    const Axis axis = axis_of(study, channel);
    if (const auto why = undecided_because(study, channel, *analysis, measured); !why.empty()) {
        analysis->verdict = undecided_verdict(goal, why);
    } else if (goal == nullptr) {
        analysis->verdict = syntonon::judge(goal, Prediction(judged, reader_of(*measured), axis));
    } else {
        judge({channel.id, view}, goal, judging, {analysis->goal, *measured, judged, axis, company},
              *analysis);
    }
    analysis->cost = analysis->chain.cost();
    analysis->latency_samples = analysis->chain.latency_samples();
    last_.insert_or_assign({channel.id, view},
                           Kept{shared, analysis->measured, std::move(answer.goal), analysis,
                                std::move(company), held_copy(delivery), held_copy(processor)});
    return analysis;
}

std::shared_ptr<const Company> AnalysisCache::company_of(const Study& study, const Channel& channel,
                                                         const ResolvedGoal* goal, const Kept* last,
                                                         std::vector<DesignJob>& jobs) {
    if (goal == nullptr || !asks_for_company(*goal->goal)) {
        return nullptr;
    }
    Company company = syntonon::company_of(study, channel, *goal->goal, briefs_, jobs);
    if (last != nullptr && last->company != nullptr && is_same(*last->company, company)) {
        return last->company;
    }
    return std::make_shared<const Company>(std::move(company));
}

const TargetCurve* shown_target(const ChannelAnalysis& analysis) {
    const ResolvedGoal* goal = analysis.goal.get();
    return goal != nullptr && goal->level && is_stated(goal->goal->target) ? &*goal->level
                                                                           : nullptr;
}

ChannelPoint point_at(const ChannelAnalysis& analysis, double hz) {
    const Axis& axis = analysis.grid->axis();
    ChannelPoint point;
    point.chain = analysis.chain.response_at(hz, axis);
    const CurveReader* measured = reader_of(analysis.measured);
    if (measured != nullptr && measured->covers(hz)) {
        point.measured_db = measured->magnitude_db_at(hz);
    }
    if (measured == nullptr || point.measured_db) {
        point.predicted_db = point.chain.magnitude_db + point.measured_db.value_or(0.0);
    }
    if (const TargetCurve* target = shown_target(analysis)) {
        point.target_db = target->value_at(hz);
    }
    for (const auto& take : analysis.takes) {
        std::optional<double> level;
        if (!take->problem && (measured == nullptr || point.measured_db)) {
            level =
                point.measured_db.value_or(0.0) + take->chain.response_at(hz, axis).magnitude_db;
        }
        point.takes_db.push_back(level);
    }
    return point;
}

} // namespace syntonon
