// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/briefs.h"

#include "core/study/company.h"
#include "core/study/fit_stages.h"
#include "core/study/phase_to_follow.h"
#include "core/study/targets.h"
#include "core/study/wished.h"

#include <algorithm>
#include <fmt/format.h>
#include <iterator>
#include <utility>

namespace syntonon {
namespace {

template <class T>
std::optional<SharedValue<T>> shared_by_id(const std::vector<SharedValue<T>>& items,
                                           const std::string& id) {
    const auto found =
        std::ranges::find_if(items, [&](const auto& item) { return item->id == id; });
    return id.empty() || found == items.end() ? std::nullopt : std::optional(*found);
}

template <class T>
void add_by_id(const std::vector<SharedValue<T>>& items, const std::string& id,
               std::vector<SharedValue<T>>& out) {
    if (auto found = shared_by_id(items, id)) {
        out.push_back(std::move(*found));
    }
}

template <class T>
bool all_same(const std::vector<SharedValue<T>>& a, const std::vector<SharedValue<T>>& b) {
    return std::ranges::equal(a, b, [](const auto& x, const auto& y) { return x.same_as(y); });
}

std::string name_of(const Study& study, const std::string& channel) {
    const Channel* found = channel_of(study, channel);
    return found != nullptr ? found->name : channel;
}

} // namespace

Briefs::Briefs(std::shared_ptr<DesignStore> store) : store_(std::move(store)) {}

Expected<SharedMeasured> Briefs::measured_of(const Study& study, const Channel& channel) {
    return measured_.of(study, channel);
}

bool Briefs::Ingredients::same_as(const Ingredients& other) const {
    return axis == other.axis && weights == other.weights && all_same(curves, other.curves)
           && all_same(channels, other.channels) && all_same(goals, other.goals);
}

void Briefs::add_ingredients(const Study& study, const Channel& channel, const Target& target,
                             std::vector<std::string>& visited, Ingredients& all) {
    const auto add_measured = [&](const Channel& of) {
        for (const Position& position : of.measured) {
            add_by_id(study.curves, position.curve, all.curves);
            all.weights.push_back(position.weight);
        }
    };
    if (target.anchor.kind == LevelAnchor::Kind::measured_average) {
        add_measured(channel);
    } else if (target.anchor.kind != LevelAnchor::Kind::fixed) { // of all that share the goal
        for (const auto& other : study.channels) {
            if (other->goal == channel.goal) {
                add_measured(*other);
            }
        }
    }
    if (!target.source) {
        return;
    }
    add_by_id(study.curves, target.source->curve, all.curves);
    if (const Channel* other = channel_of(study, target.source->channel)) {
        add_measured(*other);
        add_followed(study, *target.source, visited, all);
    }
}

// The channel that is followed, and the target of that if one of its stages looks at it.
void Briefs::add_followed(const Study& study, const TargetSource& source,
                          std::vector<std::string>& visited, Ingredients& all) {
    add_by_id(study.channels, source.channel, all.channels);
    const Channel& channel = *channel_of(study, source.channel);
    const Goal* goal = syntonon::goal_of(study, channel);
    const Chain& chain = chain_of(channel, View{source.take});
    if (goal == nullptr || std::ranges::count(visited, channel.id) > 0
        || !needs_of(chain, *store_, Counting::what_is_on).wished) {
        return;
    }
    visited.push_back(channel.id);
    add_by_id(study.goals, goal->id, all.goals);
    add_ingredients(study, channel, goal->target, visited, all);
}

Problem Briefs::going_round(const Study& study, const std::string& channel) const {
    std::string circle;
    const auto first = std::ranges::find(following_, channel);
    for (auto at = first; at != following_.end(); ++at) {
        const std::string& next = std::next(at) != following_.end() ? *std::next(at) : channel;
        circle += fmt::format("{}that of “{}” follows “{}”", circle.empty() ? "" : ", ",
                              name_of(study, *at), name_of(study, next));
    }
    return {"", fmt::format("needs a target that leads back to itself: {}", circle),
            "let one of them follow a curve, or a take without such a stage"};
}

GoalAnswer Briefs::goal_of(const Study& study, const Channel& channel) {
    const auto goal = shared_by_id(study.goals, channel.goal);
    if (!goal) {
        return {};
    }
    const LevelOf level_of = measured_of(study, channel).value_or(nullptr) != nullptr
                                 ? LevelOf::measured_and_chain
                                 : LevelOf::chain_alone;
    Ingredients now;
    now.axis = axis_of(study, channel);
    std::vector<std::string> visited{channel.id};
    add_ingredients(study, channel, (*goal)->target, visited, now);
    const auto kept = goals_.find(channel.id);
    const bool level_holds = kept != goals_.end() && kept->second.target == (*goal)->target
                             && kept->second.made_of.same_as(now);
    if (level_holds && kept->second.goal.same_as(*goal) && kept->second.level_of == level_of) {
        return {kept->second.resolved_goal};
    }
    LevelTarget target;
    if (level_holds) {
        target.level = kept->second.level;
    } else {
        following_.push_back(channel.id);
        target = level_target(study, channel, **goal, *this);
        following_.pop_back();
    }
    auto ready = std::make_shared<const ResolvedGoal>(
        resolved(**goal, target.level, study.sample_rate_hz, level_of));
    if (target.jobs.empty()) {
        goals_.insert_or_assign(channel.id,
                                KeptGoal{(*goal)->target, std::move(now), std::move(target.level),
                                         *goal, level_of, ready, nullptr});
    } else {
        goals_.erase(channel.id); // to be asked again when they are done
    }
    return {std::move(ready), std::move(target.jobs), target.waits};
}

void Briefs::add_wished(const Study& study, const Channel& channel, ChainBrief& brief,
                        std::vector<DesignJob>& jobs) {
    if (std::ranges::count(following_, channel.id) > 0) {
        brief.no_wished = going_round(study, channel.id);
        return;
    }
    GoalAnswer answer = goal_of(study, channel);
    jobs = std::move(answer.jobs);
    brief.wished_waits = answer.waits;
    if (answer.goal == nullptr || answer.waits) {
        return;
    }
    if (is_stated(answer.goal->goal->target) && !answer.goal->level) {
        const Problem& why = answer.goal->level.error();
        brief.no_wished = Problem{"", why.reason, why.way_out};
        return;
    }
    const auto kept = goals_.find(channel.id);
    if (kept != goals_.end() && kept->second.wished != nullptr) {
        brief.brief.wished = kept->second.wished;
        return;
    }
    auto wished = std::make_shared<const Wished>(wished_of(*answer.goal, axis_of(study, channel)));
    brief.brief.wished = wished->empty() ? nullptr : std::move(wished);
    if (kept != goals_.end()) { // else some jobs are left that it need not wait for
        kept->second.wished = brief.brief.wished;
    }
}

void Briefs::add_seen(const Study& study, const Channel& channel, ChainBrief& brief) {
    const auto measured = measured_of(study, channel);
    if (!measured) {
        const Problem& why = measured.error();
        brief.no_seen = Problem{"", why.reason, why.way_out};
        return;
    }
    if (*measured == nullptr) {
        return;
    }
    KeptSeen& kept = seen_[channel.id];
    if (kept.measured != *measured) {
        kept = {*measured, seen_of(**measured)};
    }
    brief.brief.seen = kept.seen;
}

void Briefs::hold(const ChannelView& key, const Chain& chain, const DesignedChain& designed) {
    if (is_quick(chain, *store_)) {
        in_use_.erase(key);
        return;
    }
    auto& results = in_use_[key];
    results.clear();
    for (const auto& [id, stage] : designed.stages) {
        if (stage.design != nullptr) {
            results.push_back(stage.design);
        }
    }
}

DesignedChain Briefs::design(const Study& study, const Channel& channel, const View& view,
                             const LastFilter& last) {
    const Chain& chain = chain_of(channel, view);
    // What is switched off is no part of what is followed.
    const Needs needs =
        needs_of(chain, *store_, following_.empty() ? Counting::all : Counting::what_is_on);
    ChainBrief brief(brief_at(axis_of(study, channel)));
    std::vector<DesignJob> followed;
    if (needs.wished) {
        add_wished(study, channel, brief, followed);
    }
    if (needs.seen) {
        add_seen(study, channel, brief);
    }
    DesignedChain designed = design_chain(chain, brief, *store_, last);
    for (DesignJob& job : designed.jobs) {
        job.name = fmt::format("{}: {}", channel.name, job.name);
    }
    std::ranges::move(followed, std::back_inserter(designed.jobs));
    hold({channel.id, view}, chain, designed);
    return designed;
}

namespace {

// What the signal goes through before it comes to a stage, however deep that stands.
Chain chain_above(const Chain& chain, std::string_view id) {
    const auto slot = slot_of(chain, id);
    if (!slot) {
        return {};
    }
    Chain above = slot->holder.empty() ? Chain() : chain_above(chain, slot->holder);
    const Chain& own = *chain_at(chain, *slot);
    above.insert(above.end(), own.begin(),
                 own.begin() + static_cast<std::ptrdiff_t>(std::min(slot->place, own.size())));
    std::erase_if(above, [](const auto& stage) { return !stage->enabled; });
    return above;
}

} // namespace

namespace {

// A stage may be fitted to targets of its own: as if its channel had another goal. What is kept of
// that must not be taken for the channel's.
struct OwnGoal {
    Study study;
    Channel channel;
};

std::optional<OwnGoal> with_own_goal(const Study& study, const Channel& channel,
                                     std::string_view stage) {
    const Stage* asking = stage_of(channel, stage);
    const auto shared = shared_by_id(study.goals, channel.goal);
    auto goal =
        asking != nullptr ? own_goal(asking->spec, shared ? **shared : Goal{}) : std::nullopt;
    if (!goal) {
        return std::nullopt;
    }
    OwnGoal own{study, channel};
    goal->id = fmt::format("{}\n{}", channel.id, stage);
    own.channel.goal = goal->id;
    for (auto& other : own.study.channels) {
        if (other->id == channel.id) {
            other.edit().goal = goal->id;
        }
    }
    own.channel.id = goal->id;
    own.study.goals.emplace_back(*std::move(goal));
    return own;
}

Expected<Brief> with_impulse_of(const Study& study, const std::string& id, Brief brief) {
    const Curve* curve = curve_of(study, id);
    if (curve == nullptr) {
        return refuse("curve", fmt::format("there is no curve “{}”", id),
                      "name one of the study's curves, or leave it out");
    }
    if (!curve->origin || curve->origin->measured->impulse.samples.empty()) {
        return refuse("curve",
                      fmt::format("“{}” has no impulse response that could be read", curve->name),
                      "choose a curve that was measured as one, or fit to its level");
    }
    const ImpulseResponse& measured = curve->origin->measured->impulse;
    brief.impulse = std::make_shared<const SampledImpulse>(
        SampledImpulse{measured.sample_rate_hz, measured.samples});
    return brief;
}

} // namespace

Expected<Brief> Briefs::fit_brief(const Study& study, const Channel& channel,
                                  std::string_view stage) {
    ChainBrief brief(brief_at(axis_of(study, channel)));
    const Stage* stage_asking = stage_of(channel, stage);
    const auto impulse = stage_asking != nullptr ? impulse_asked(stage_asking->spec) : std::nullopt;
    if (impulse && !impulse->curve.empty()) {
        return with_impulse_of(study, impulse->curve, brief.brief);
    }
    std::vector<DesignJob> followed;
    const auto own = with_own_goal(study, channel, stage);
    const Study& asked = own ? own->study : study;
    const Channel& asking = own ? own->channel : channel;
    add_wished(asked, asking, brief, followed);
    add_seen(study, channel, brief);
    for (const auto& missing : {brief.no_wished, brief.no_seen}) {
        if (missing && !impulse) {
            return tl::unexpected(*missing);
        }
    }
    const DesignedChain above = design_chain(chain_above(channel.stages, stage), brief, *store_);
    if (!above.problems.empty()) {
        const Problem& why = above.problems.front();
        return refuse("", "a stage above it cannot be designed: " + why.reason, why.way_out);
    }
    if (brief.wished_waits || !above.waits_for.empty()) {
        return tl::unexpected(
            being_designed(brief.wished_waits ? "What the target follows" : above.waits_for));
    }
    brief.brief.above = above.filter;
    if (const GoalAnswer answer = goal_of(asked, asking); answer.goal != nullptr) {
        brief.brief.wished_timing = wished_timing_of(*answer.goal, axis_of(study, channel));
    }
    if (const auto phase =
            stage_asking != nullptr ? phase_asked(stage_asking->spec) : std::nullopt) {
        auto line = phase_to_follow(study, channel, *phase, *this);
        if (!line) {
            return tl::unexpected(line.error());
        }
        brief.brief.wished_timing =
            std::make_shared<const WishedTiming>(WishedTiming{{*std::move(line)}, {}});
    }
    return brief.brief;
}

std::vector<DesignJob> jobs_of(const Study& study, const Channel& channel, const View& view,
                               Briefs& briefs) {
    auto jobs = briefs.design(study, channel, view).jobs;
    const GoalAnswer answer = briefs.goal_of(study, channel);
    add_jobs(answer.jobs, jobs);
    if (answer.goal != nullptr && asks_for_company(*answer.goal->goal)) {
        std::vector<DesignJob> of_company;
        company_of(study, channel, *answer.goal->goal, briefs, of_company);
        add_jobs(std::move(of_company), jobs);
    }
    return jobs;
}

void add_jobs(std::vector<DesignJob> more, std::vector<DesignJob>& to) {
    for (DesignJob& job : more) {
        const auto is_known = [&](const DesignJob& other) { return make_the_same(job, other); };
        if (std::ranges::none_of(to, is_known)) {
            to.push_back(std::move(job));
        }
    }
}

} // namespace syntonon
