// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/company.h"

#include "core/study/crossovers.h"
#include "core/study/delivery_budget.h"
#include "core/study/kinds.h"

#include <algorithm>
#include <fmt/format.h>
#include <optional>
#include <utility>

namespace syntonon {
namespace {

std::optional<WayPlace> first_crossover(const Channel& channel) {
    std::optional<WayPlace> found;
    visit_stages(channel.stages, [&](const Stage& stage, const Slot&, int) {
        if (!found && stage.enabled && std::holds_alternative<CrossoverSpec>(*stage.spec)) {
            found = WayPlace{channel.id, stage.id};
        }
    });
    return found;
}

Expected<Filter> chain_of_member(const Study& study, const std::string& id, Briefs& briefs,
                                 std::vector<DesignJob>& jobs) {
    const Channel* channel = channel_of(study, id);
    if (channel == nullptr) {
        return refuse("with", fmt::format("there is no channel “{}”", id),
                      "name one of the study's channels");
    }
    DesignedChain chain = briefs.design(study, *channel);
    add_jobs(std::move(chain.jobs), jobs);
    if (!chain.problems.empty()) {
        return tl::unexpected(within("“" + channel->name + "”", chain.problems.front()));
    }
    if (!chain.waits_for.empty()) {
        return tl::unexpected(being_designed(chain.waits_for));
    }
    return std::move(chain.filter);
}

} // namespace

const ChannelIds* channels_of(const Requirement& requirement) {
    return std::visit(
        [](const auto& spec) -> const ChannelIds* {
            if constexpr (requires { spec.with; }) {
                return &spec.with;
            }
            return nullptr;
        },
        requirement.spec);
}

namespace {

bool asks_for_budget(const Requirement& requirement) {
    return std::holds_alternative<BudgetRequirement>(requirement.spec);
}

// Of each delivery for a processor that the channel is in.
std::vector<BudgetUse> budgets_of(const Study& study, const Channel& channel, Briefs& briefs,
                                  std::vector<DesignJob>& jobs) {
    std::vector<BudgetUse> uses;
    for (const Delivery& delivery : study.deliveries) {
        const Processor* processor = processor_of(study, delivery.processor);
        const std::vector<const Channel*> channels = channels_of(study, delivery);
        const bool is_in = std::ranges::any_of(
            channels, [&](const Channel* each) { return each->id == channel.id; });
        if (processor == nullptr || !is_in) {
            continue;
        }
        for (const Channel* each : channels) {
            if (each->id != channel.id) {
                (void)chain_of_member(study, each->id, briefs, jobs); // what is to be designed yet
            }
        }
        BudgetUse use{delivery.name, processor->name, {}, 0};
        if (const auto budget = budget_of(study, delivery, briefs); !budget) {
            use.share = tl::unexpected(budget.error());
        } else if (const BudgetLine* tightest = budget->tightest()) {
            use.what = tightest->what;
            use.share = tightest->share();
        }
        uses.push_back(std::move(use));
    }
    return uses;
}

} // namespace

bool asks_for_company(const Goal& goal) {
    return std::ranges::any_of(goal.requirements, [](const Requirement& r) {
        return channels_of(r) != nullptr || asks_for_budget(r);
    });
}

Company company_of(const Study& study, const Channel& channel, const Goal& goal, Briefs& briefs,
                   std::vector<DesignJob>& jobs) {
    Company company;
    if (const auto crossover = first_crossover(channel)) {
        for (const auto& way : ways_around(study, *crossover)) {
            if (way && way->channel != channel.id) {
                company.ways.push_back(way->channel);
            }
        }
    }
    std::vector<std::string> ids = company.ways;
    for (const Requirement& requirement : goal.requirements) {
        const ChannelIds* list = channels_of(requirement);
        for (const std::string& id : list != nullptr ? list->ids : std::vector<std::string>()) {
            if (id != channel.id && std::ranges::find(ids, id) == ids.end()) {
                ids.push_back(id);
            }
        }
    }
    for (std::string& id : ids) {
        auto chain = chain_of_member(study, id, briefs, jobs);
        company.members.push_back({std::move(id), std::move(chain)});
    }
    if (std::ranges::any_of(goal.requirements, asks_for_budget)) {
        company.budgets = budgets_of(study, channel, briefs, jobs);
    }
    return company;
}

bool is_same(const Company& a, const Company& b) {
    const auto is_same_use = [](const BudgetUse& x, const BudgetUse& y) {
        return x.delivery == y.delivery && x.processor == y.processor && x.what == y.what
               && x.share == y.share;
    };
    return a.ways == b.ways && std::ranges::equal(a.budgets, b.budgets, is_same_use)
           && std::ranges::equal(
               a.members, b.members, [](const Company::Member& x, const Company::Member& y) {
                   return x.channel == y.channel && x.chain.has_value() == y.chain.has_value()
                          && (x.chain ? x.chain->is_same_as(*y.chain) || *x.chain == *y.chain
                                      : to_text(x.chain.error()) == to_text(y.chain.error()));
               });
}

} // namespace syntonon
