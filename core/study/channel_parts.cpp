// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/channel_parts.h"

#include "core/study/designed_chain.h"

#include <fmt/format.h>

namespace syntonon {

Expected<SeriesParts> channel_parts(const Study& study, const Channel& channel, Briefs& briefs) {
    if (channel.domain == Domain::analog) {
        return refuse("channel " + channel.id, "is analog, and a processor works in samples",
                      "map it into a sampled channel, or hand out its sections in s");
    }
    std::vector<Filter> parts;
    const DesignedChain chain = briefs.design(study, channel);
    const std::string place = "channel " + channel.id;
    if (!chain.problems.empty()) {
        return refuse(fmt::format("{}, {}", place, chain.problems.front().place),
                      chain.problems.front().reason, chain.problems.front().way_out);
    }
    if (!chain.waits_for.empty()) {
        return tl::unexpected(within(place, being_designed(chain.waits_for)));
    }
    for (std::size_t i = 0; i < channel.stages.size(); ++i) {
        const Stage& stage = *channel.stages[i];
        if (!stage.enabled) {
            continue;
        }
        parts.push_back(*chain.stages.at(stage.id).filter);
        if (const auto own = series_parts_of(parts.back().form()); !own) {
            return tl::unexpected(within(fmt::format("{}, stages[{}]", place, i), own.error()));
        }
    }
    const Filter all = series(parts);
    auto in_series = series_parts_of(all.form());
    if (!in_series) {
        return tl::unexpected(within(place, in_series.error()));
    }
    return in_series;
}

Problem of_channel(std::string_view id, Problem problem) {
    const std::string channel = fmt::format("channel {}", id);
    if (!problem.place.starts_with(channel)) {
        problem.place = problem.place.empty() ? channel : channel + ", " + problem.place;
    }
    return problem;
}

} // namespace syntonon
