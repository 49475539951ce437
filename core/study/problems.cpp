// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/problems.h"

#include "core/goal/goal_limits.h"
#include "core/goal/resolved_goal.h"
#include "core/study/company.h"
#include "core/study/compared_chain.h"
#include "core/study/crossovers.h"
#include "core/study/words.h"

#include <algorithm>
#include <fmt/format.h>
#include <iterator>
#include <string_view>
#include <utility>

namespace syntonon {
namespace {

std::string channel_place(std::size_t i) {
    return fmt::format("channels[{}]", i);
}

Problem no_channel(std::string place, const std::string& id) {
    return {std::move(place), fmt::format("there is no channel “{}”", id),
            "name one of the study's channels"};
}

void find_missing(const Study& study, std::size_t i, Briefs& briefs,
                  std::vector<Problem>& problems) {
    const Channel& channel = *study.channels[i];
    if (!channel.goal.empty() && goal_of(study, channel) == nullptr) {
        problems.push_back({channel_place(i) + ".goal",
                            fmt::format("there is no goal “{}”", channel.goal),
                            "name one of the study's goals or remove the key"});
    }
    for (const auto& [key, id] : {std::pair("signal", &channel.bench.signal),
                                  std::pair("reference", &channel.bench.reference)}) {
        if (!id->empty() && signal_of(study, *id) == nullptr) {
            problems.push_back({fmt::format("{}.bench.{}", channel_place(i), key),
                                fmt::format("there is no signal “{}”", *id),
                                "name one of the study's signals or remove the key"});
        }
    }
    for (std::size_t k = 0; k < channel.bench.compared.size(); ++k) {
        if (const auto found = compared_chain(study, channel, channel.bench.compared[k]); !found) {
            problems.push_back(
                within(fmt::format("{}.bench.compared[{}]", channel_place(i), k), found.error()));
        }
    }
    if (const auto measured = briefs.measured_of(study, channel); !measured) {
        problems.push_back(within(channel_place(i), measured.error()));
    }
}

void find_stage_problems(const DesignedChain& chain, const std::string& place,
                         std::vector<Problem>& problems) {
    for (const auto* found : {&chain.problems, &chain.problems_of_what_is_off}) {
        for (const Problem& problem : *found) {
            problems.push_back(within(place, problem));
        }
    }
}

void find_difference_problems(const Channel& channel, const std::string& place,
                              std::vector<Problem>& problems) {
    if (!channel.difference) {
        return;
    }
    constexpr std::string_view take = "take:";
    for (const auto& [key, named] :
         {std::pair("of", channel.difference->of), std::pair("from", channel.difference->from)}) {
        const bool is_take = named.starts_with(take);
        const bool is_known =
            is_take ? take_of(channel, named.substr(take.size())) != nullptr
                    : named == "prediction" || named == "measured" || named == "target";
        if (!is_known) {
            problems.push_back(
                {fmt::format("{}.difference.{}", place, key),
                 is_take ? fmt::format("the channel has no take “{}”", named.substr(take.size()))
                         : fmt::format("“{}” is no curve of the channel", named),
                 "name prediction, measured, target or take:<id> of one of the channel's takes"});
        }
    }
}

void find_goal_problems(const Study& study, std::size_t i, Briefs& briefs,
                        std::vector<Problem>& problems) {
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
    // Of no channel, or of analog ones only, it may reach as far as it likes.
    const bool is_for_samples = std::ranges::any_of(study.channels, [&](const auto& c) {
        return c->goal == goal.id && c->domain == Domain::sampled;
    });
    if (is_for_samples) {
        for (const Problem& problem : beyond_nyquist(goal, study.sample_rate_hz)) {
            problems.push_back(within(place, problem));
        }
    }
    const bool is_measured = std::ranges::any_of(study.channels, [&](const auto& channel) {
        return channel->goal == goal.id
               && briefs.measured_of(study, *channel).value_or(nullptr) != nullptr;
    });
    for (std::size_t k = 0; k < goal.requirements.size(); ++k) {
        const ChannelIds* list = channels_of(goal.requirements[k]);
        for (std::size_t j = 0; list != nullptr && j < list->ids.size(); ++j) {
            if (channel_of(study, list->ids[j]) == nullptr) {
                problems.push_back(no_channel(
                    fmt::format("{}.requirements[{}].with[{}]", place, k, j), list->ids[j]));
            }
        }
    }
    const LevelOf level_of = is_measured ? LevelOf::measured_and_chain : LevelOf::chain_alone;
    for (std::size_t k = 0; k < goal.corridor.size(); ++k) {
        if (!goal.corridor[k].absolute && !is_stated(goal.target)) {
            problems.push_back(within(fmt::format("{}.corridor[{}]", place, k), no_target()));
        }
    }
    for (const Contradiction& contradiction :
         resolved(goal, study.sample_rate_hz, level_of).contradictions) {
        problems.push_back(within(place, contradiction.problem));
    }
}

// A processor that is not there, or has not what the delivery asks of it.
void find_processor_problems(const Study& study, std::size_t i, std::vector<Problem>& problems) {
    const Delivery& delivery = study.deliveries[i];
    if (delivery.processor.empty()) {
        return;
    }
    if (const auto format = word_format(study, delivery); !format) {
        const Processor* processor = processor_of(study, delivery.processor);
        const bool has_blocks = processor == nullptr || delivery.block_frames == 0
                                || processor->runs_in_blocks_of(delivery.block_frames);
        const char* field = processor != nullptr && !processor->has(delivery.structure)
                                ? "structure"
                            : has_blocks ? "processor"
                                         : "block_frames";
        problems.push_back({fmt::format("deliveries[{}].{}", i, field), format.error().reason,
                            format.error().way_out});
    }
}

} // namespace

std::vector<Problem> problems_of(const Study& study, Briefs& briefs) {
    std::vector<Problem> problems;
    for (std::size_t i = 0; i < study.goals.size(); ++i) {
        find_goal_problems(study, i, briefs, problems);
    }
    for (std::size_t i = 0; i < study.channels.size(); ++i) {
        find_missing(study, i, briefs, problems);
        const Channel& channel = *study.channels[i];
        find_difference_problems(channel, channel_place(i), problems);
        find_stage_problems(briefs.design(study, channel), channel_place(i), problems);
        for (std::size_t k = 0; k < channel.takes.size(); ++k) {
            find_stage_problems(briefs.design(study, channel, View{channel.takes[k]->id}),
                                fmt::format("{}.takes[{}]", channel_place(i), k), problems);
        }
    }
    std::ranges::move(contradicting_crossovers(study), std::back_inserter(problems));
    for (std::size_t i = 0; i < study.deliveries.size(); ++i) {
        find_processor_problems(study, i, problems);
        for (std::size_t k = 0; k < study.deliveries[i].channels.size(); ++k) {
            const std::string& id = study.deliveries[i].channels[k];
            if (channel_of(study, id) == nullptr) {
                problems.push_back(
                    no_channel(fmt::format("deliveries[{}].channels[{}]", i, k), id));
            }
        }
    }
    return problems;
}

std::vector<Problem> problems_of(const Study& study) {
    Briefs briefs;
    return problems_of(study, briefs);
}

} // namespace syntonon
