// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/study.h"

#include "core/base/number_text.h"
#include "core/goal/goal_limits.h"
#include "core/goal/worked_goal.h"
#include "core/study/designed_chain.h"

#include <algorithm>
#include <fmt/format.h>

namespace syntonon {
namespace {

template <class T>
const T* find_by_id(const std::vector<SharedValue<T>>& items, std::string_view id) {
    const auto found =
        std::ranges::find_if(items, [&](const auto& item) { return item->id == id; });
    return id.empty() || found == items.end() ? nullptr : &**found;
}

std::string channel_place(std::size_t i) {
    return fmt::format("channels[{}]", i);
}

void find_missing(const Study& study, std::size_t i, std::vector<Problem>& problems) {
    const Channel& channel = *study.channels[i];
    if (!channel.goal.empty() && goal_of(study, channel) == nullptr) {
        problems.push_back({channel_place(i) + ".goal",
                            fmt::format("there is no goal “{}”", channel.goal),
                            "name one of the study's goals or remove the key"});
    }
    if (!channel.measured.empty() && measured_of(study, channel) == nullptr) {
        problems.push_back({channel_place(i) + ".measured",
                            fmt::format("there is no curve “{}”", channel.measured),
                            "name one of the study's curves or remove the key"});
    }
}

void find_stage_problems(const Chain& stages, double sample_rate_hz, const std::string& place,
                         std::vector<Problem>& problems) {
    DesignStore store;
    const DesignedChain chain = design_chain(stages, brief_at(sample_rate_hz), store);
    for (const auto* found : {&chain.problems, &chain.problems_of_what_is_off}) {
        for (const Problem& problem : *found) {
            problems.push_back(within(place, problem));
        }
    }
}

void find_goal_problems(const Study& study, std::size_t i, std::vector<Problem>& problems) {
    const Goal& goal = *study.goals[i];
    const std::string place = fmt::format("goals[{}]", i);
    if (auto ok = check(goal); !ok) {
        problems.push_back(within(place, ok.error()));
        return;
    }
    if (goal.target.source) {
        if (auto found = find_source(study, *goal.target.source); !found) {
            problems.push_back(within(place + ".target.source", found.error()));
        }
    }
    for (const Problem& problem : beyond_nyquist(goal, study.sample_rate_hz)) {
        problems.push_back(within(place, problem));
    }
    const bool is_measured = std::ranges::any_of(study.channels, [&](const auto& channel) {
        return channel->goal == goal.id && measured_of(study, *channel) != nullptr;
    });
    const LevelOf level_of = is_measured ? LevelOf::measured_and_chain : LevelOf::chain_alone;
    for (std::size_t k = 0; k < goal.corridor.size(); ++k) {
        if (!goal.corridor[k].absolute && !is_stated(goal.target)) {
            problems.push_back(within(fmt::format("{}.corridor[{}]", place, k), no_target()));
        }
    }
    for (const Contradiction& contradiction :
         worked(goal, study.sample_rate_hz, level_of).contradictions) {
        problems.push_back(within(place, contradiction.problem));
    }
}

} // namespace

const Curve* curve_of(const Study& study, std::string_view id) {
    return find_by_id(study.curves, id);
}

const Goal* goal_of(const Study& study, std::string_view id) {
    return find_by_id(study.goals, id);
}

const Channel* channel_of(const Study& study, std::string_view id) {
    return find_by_id(study.channels, id);
}

const Goal* goal_of(const Study& study, const Channel& channel) {
    return goal_of(study, channel.goal);
}

const Curve* measured_of(const Study& study, const Channel& channel) {
    return curve_of(study, channel.measured);
}

const Take* take_of(const Channel& channel, std::string_view id) {
    return find_by_id(channel.takes, id);
}

const Stage* stage_of(const Channel& channel, std::string_view id) {
    return find_stage(channel.stages, id);
}

std::string fresh_take_id(const Channel& channel) {
    for (std::size_t n = channel.takes.size() + 1;; ++n) {
        std::string id = fmt::format("t{}", n);
        if (take_of(channel, id) == nullptr) {
            return id;
        }
    }
}

std::string fresh_id(const Study& study, std::string_view wish) {
    std::string base;
    for (const char c : lower_case(wish)) {
        const bool plain = (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9');
        if (plain) {
            base += c;
        } else if (!base.empty() && base.back() != '-') {
            base += '-';
        }
    }
    base = base.empty() || base == "-" ? "item" : base;
    const auto taken = [&](const std::string& id) {
        return curve_of(study, id) != nullptr || goal_of(study, id) != nullptr
               || channel_of(study, id) != nullptr;
    };
    std::string id = base;
    for (int n = 2; taken(id); ++n) {
        id = fmt::format("{}-{}", base, n);
    }
    return id;
}

Expected<FoundSource> find_source(const Study& study, const TargetSource& source) {
    using Kind = TargetSource::Kind;
    const auto missing = [](const char* what, const std::string& id) {
        return refuse(what, fmt::format("there is no {} “{}”", what, id),
                      fmt::format("choose another {}, or state the target by points", what));
    };
    FoundSource found;
    if (source.kind == Kind::curve) {
        found.curve = curve_of(study, source.curve);
        return found.curve == nullptr ? missing("curve", source.curve)
                                      : Expected<FoundSource>(found);
    }
    found.channel = channel_of(study, source.channel);
    if (found.channel == nullptr) {
        return missing("channel", source.channel);
    }
    if (source.kind == Kind::take) {
        found.take = take_of(*found.channel, source.take);
        return found.take == nullptr ? missing("take", source.take) : Expected<FoundSource>(found);
    }
    if (source.kind == Kind::stage) {
        found.stage = stage_of(*found.channel, source.stage);
        return found.stage == nullptr ? missing("stage", source.stage)
                                      : Expected<FoundSource>(found);
    }
    return found;
}

Study empty_study() {
    Study study;
    Channel channel;
    channel.id = "channel-1";
    channel.name = "Channel 1";
    study.channels.emplace_back(std::move(channel));
    return study;
}

std::vector<Problem> problems_of(const Study& study) {
    std::vector<Problem> problems;
    for (std::size_t i = 0; i < study.goals.size(); ++i) {
        find_goal_problems(study, i, problems);
    }
    for (std::size_t i = 0; i < study.channels.size(); ++i) {
        find_missing(study, i, problems);
        const Channel& channel = *study.channels[i];
        find_stage_problems(channel.stages, study.sample_rate_hz, channel_place(i), problems);
        for (std::size_t k = 0; k < channel.takes.size(); ++k) {
            find_stage_problems(channel.takes[k]->stages, study.sample_rate_hz,
                                fmt::format("{}.takes[{}]", channel_place(i), k), problems);
        }
    }
    for (std::size_t i = 0; i < study.deliveries.size(); ++i) {
        for (std::size_t k = 0; k < study.deliveries[i].channels.size(); ++k) {
            const std::string& id = study.deliveries[i].channels[k];
            if (channel_of(study, id) == nullptr) {
                problems.push_back({fmt::format("deliveries[{}].channels[{}]", i, k),
                                    fmt::format("there is no channel “{}”", id),
                                    "name one of the study's channels"});
            }
        }
    }
    return problems;
}

} // namespace syntonon
