// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/crossovers.h"

#include "core/base/units.h"
#include "core/study/alignment.h"
#include "core/study/finish_designs.h"
#include "core/study/kinds.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <iterator>
#include <map>
#include <set>
#include <utility>

namespace syntonon {
namespace {

struct FoundWay {
    std::size_t channel = 0; // its place in the study
    std::string stage;
    const CrossoverSpec* spec = nullptr;
};

void each_crossover(const Study& study, const std::function<void(const FoundWay&)>& visit) {
    for (std::size_t i = 0; i < study.channels.size(); ++i) {
        visit_stages(study.channels[i]->stages, [&](const Stage& stage, const Slot&, int) {
            if (const auto* spec = std::get_if<CrossoverSpec>(&*stage.spec)) {
                visit({i, stage.id, spec});
            }
        });
    }
}

std::vector<FoundWay> linked(const Study& study, std::string_view link) {
    std::vector<FoundWay> found;
    each_crossover(study, [&](const FoundWay& way) {
        if (way.spec->link == link) {
            found.push_back(way);
        }
    });
    return found;
}

std::size_t place_of_channel(const Study& study, const std::string& id) {
    return static_cast<std::size_t>(
        std::ranges::find(study.channels, id, [](const auto& channel) { return channel->id; })
        - study.channels.begin());
}

// Of those with a way, the one that belongs to a channel's.
const FoundWay* nearest(const std::vector<FoundWay>& all, int way, std::size_t channel,
                        int own_way) {
    const FoundWay *before = nullptr, *behind = nullptr;
    for (const FoundWay& found : all) {
        if (found.spec->way != way) {
            continue;
        }
        if (found.channel < channel) {
            before = &found;
        } else if (behind == nullptr && found.channel > channel) {
            behind = &found;
        }
    }
    const bool looks_back = way < own_way;
    const FoundWay *first = looks_back ? before : behind, *second = looks_back ? behind : before;
    return first != nullptr ? first : second;
}

bool share_the_same(const CrossoverSpec& a, const CrossoverSpec& b) {
    return with_shared(a, b) == b;
}

// Ids that the stage had before may be another channel's; only its own count.
const CrossoverSpec* spec_before(const Study& before, const std::string& channel,
                                 const std::string& stage) {
    return crossover_at(before, {channel, stage});
}

void edit_crossover(Study& study, const WayPlace& place,
                    const std::function<void(CrossoverSpec&)>& change) {
    const std::size_t at = place_of_channel(study, place.channel);
    edit_stage(study.channels[at].edit().stages, place.stage,
               [&](Stage& stage) { change(std::get<CrossoverSpec>(stage.spec.edit())); });
}

void share(Study& study, const CrossoverSpec& settings) {
    std::vector<WayPlace> others;
    for (const FoundWay& way : linked(study, settings.link)) {
        if (!share_the_same(settings, *way.spec)) {
            others.push_back({study.channels[way.channel]->id, way.stage});
        }
    }
    for (const WayPlace& other : others) {
        edit_crossover(study, other,
                       [&](CrossoverSpec& spec) { spec = with_shared(settings, spec); });
    }
}

} // namespace

const CrossoverSpec* crossover_at(const Study& study, const WayPlace& place) {
    const Channel* channel = channel_of(study, place.channel);
    const Stage* stage = channel != nullptr ? stage_of(*channel, place.stage) : nullptr;
    return stage != nullptr ? std::get_if<CrossoverSpec>(&*stage->spec) : nullptr;
}

std::vector<std::optional<WayPlace>> ways_around(const Study& study, const WayPlace& asking) {
    const CrossoverSpec* own = crossover_at(study, asking);
    if (own == nullptr) {
        return {};
    }
    std::vector<std::optional<WayPlace>> places(static_cast<std::size_t>(ways_of(*own)));
    const std::size_t channel = place_of_channel(study, asking.channel);
    const std::vector<FoundWay> all =
        own->link.empty() ? std::vector<FoundWay>() : linked(study, own->link);
    for (int way = 1; way <= ways_of(*own); ++way) {
        auto& place = places[static_cast<std::size_t>(way) - 1];
        if (way == own->way) {
            place = asking;
        } else if (const FoundWay* found = nearest(all, way, channel, own->way)) {
            place = WayPlace{study.channels[found->channel]->id, found->stage};
        }
    }
    return places;
}

void share_crossovers(const Study& before, Study& after) {
    std::vector<CrossoverSpec> changed;
    for (const auto& channel : after.channels) {
        const auto was = std::ranges::find_if(
            before.channels, [&](const auto& other) { return other.same_as(channel); });
        if (was != before.channels.end()) {
            continue;
        }
        visit_stages(channel->stages, [&](const Stage& stage, const Slot&, int) {
            const auto* spec = std::get_if<CrossoverSpec>(&*stage.spec);
            const auto* then =
                spec != nullptr ? spec_before(before, channel->id, stage.id) : nullptr;
            if (then != nullptr && !spec->link.empty() && then->link == spec->link
                && !share_the_same(*then, *spec)) {
                changed.push_back(*spec);
            }
        });
    }
    for (const CrossoverSpec& spec : changed) {
        share(after, spec);
    }
}

std::string fresh_link(const Study& study) {
    for (int i = 1;; ++i) {
        std::string link = fmt::format("crossover-{}", i);
        if (linked(study, link).empty()) {
            return link;
        }
    }
}

void take_way(Study& study, const WayPlace& asking, int way) {
    const auto places = ways_around(study, asking);
    const auto& place = places[static_cast<std::size_t>(way) - 1];
    if (place && !(*place == asking)) {
        auto& channel = study.channels[place_of_channel(study, place->channel)].edit();
        take_out_stage(channel.stages, place->stage);
    }
}

void put_way(Study& study, const WayPlace& asking, int way, const std::string& channel) {
    CrossoverSpec settings = *crossover_at(study, asking);
    if (settings.link.empty()) {
        settings.link = fresh_link(study);
        edit_crossover(study, asking, [&](CrossoverSpec& spec) { spec.link = settings.link; });
    }
    for (const FoundWay& found : linked(study, settings.link)) {
        if (study.channels[found.channel]->id == channel) {
            edit_crossover(study, {channel, found.stage},
                           [way](CrossoverSpec& spec) { spec.way = way; });
            return;
        }
    }
    take_way(study, asking, way);
    settings.way = way;
    settings.height_m = 0;
    Stage stage;
    stage.spec = settings;
    auto& chain = study.channels[place_of_channel(study, channel)].edit().stages;
    give_fresh_ids(stage, chain);
    insert_stage(chain, {}, std::move(stage));
}

namespace {

std::vector<double> frequencies_for(std::vector<double> all, int ways, const Axis& axis) {
    constexpr double apart = 4, below_end = 0.9;
    while (static_cast<int>(all.size()) + 1 < ways) {
        const double end = below_end * axis.end_hz();
        all.push_back(all.back() * apart < end ? all.back() * apart : std::sqrt(all.back() * end));
    }
    all.resize(static_cast<std::size_t>(ways) - 1);
    return all;
}

} // namespace

void set_ways(Study& study, const WayPlace& asking, int ways) {
    const CrossoverSpec own = *crossover_at(study, asking);
    const int before = ways_of(own);
    CrossoverSpec settings = own;
    settings.frequencies_hz = frequencies_for(own.frequencies_hz, ways,
                                              axis_of(study, *channel_of(study, asking.channel)));
    const bool asking_is_highest = own.way == before || own.way >= ways;
    settings.way = asking_is_highest ? ways : own.way;
    settings.height_m = own.height_m;
    std::vector<WayPlace> others;
    for (const FoundWay& found : linked(study, own.link)) {
        others.push_back({study.channels[found.channel]->id, found.stage});
    }
    std::erase(others, asking);
    edit_crossover(study, asking, [&](CrossoverSpec& spec) { spec = settings; });
    for (const WayPlace& other : own.link.empty() ? std::vector<WayPlace>() : others) {
        const int way = crossover_at(study, other)->way;
        const bool is_same_side = way == own.way; // of left and right
        const bool stays = is_same_side || (way == before && own.way < ways) || way < ways;
        if (!stays || (way == before && asking_is_highest && !is_same_side)) {
            auto& channel = study.channels[place_of_channel(study, other.channel)].edit();
            take_out_stage(channel.stages, other.stage);
            continue;
        }
        edit_crossover(study, other, [&](CrossoverSpec& spec) {
            spec = with_shared(settings, spec);
            spec.way = is_same_side ? settings.way : way == before ? ways : way;
        });
    }
}

std::optional<HzRange> middle_of_way(const CrossoverSpec& spec, const Axis& axis,
                                     const Curve* measured) {
    constexpr double within = 2, open = 8;
    const auto& all = spec.frequencies_hz;
    if (all.empty() || spec.way < 1 || spec.way > ways_of(spec)) { // no such way: said elsewhere
        return std::nullopt;
    }
    const auto way = static_cast<std::size_t>(spec.way) - 1;
    const bool is_lowest = way == 0, is_highest = way >= all.size();
    HzRange range;
    range.from_hz = is_lowest ? all.front() / open : all[way - 1] * within;
    range.to_hz = is_highest ? all.back() * open : all[way] / within;
    if (!is_lowest && !is_highest && range.from_hz > range.to_hz) { // a narrow band: its middle
        const double middle = std::sqrt(range.from_hz * range.to_hz);
        const double half_width = std::sqrt(std::sqrt(all[way] / all[way - 1]));
        range = {middle / half_width, middle * half_width};
    }
    constexpr double below_end = 0.9;
    range.to_hz = std::min(range.to_hz, below_end * axis.end_hz());
    if (measured != nullptr) {
        range.from_hz = std::max(range.from_hz, measured->low_hz());
        range.to_hz = std::min(range.to_hz, measured->high_hz());
    }
    return range.to_hz > range.from_hz ? std::optional(range) : std::nullopt;
}

namespace {

// With its crossover switched off: what the way itself does there.
Filter chain_without(Study study, const WayPlace& place, Briefs& briefs) {
    Channel& channel = study.channels[place_of_channel(study, place.channel)].edit();
    edit_stage(channel.stages, place.stage, [](Stage& stage) { stage.enabled = false; });
    const std::array views = {ChannelView{channel.id, {}}};
    finish_designs(study, views, briefs);
    return briefs.design(study, channel).filter;
}

Standing standing_of_way(const Study& study, const WayPlace& place, Briefs& briefs) {
    const Channel& channel = *channel_of(study, place.channel);
    Standing none;
    const auto measured = briefs.measured_of(study, channel);
    if (!measured || *measured == nullptr) {
        none.missing = measured ? "not measured" : measured.error().reason;
        return none;
    }
    const Axis axis = axis_of(study, channel);
    const auto range = middle_of_way(*crossover_at(study, place), axis, &*(*measured)->curve);
    if (!range) {
        none.missing = "not measured in its band";
        return none;
    }
    return standing_of(*measured, chain_without(study, place, briefs), axis,
                       {range->from_hz, range->to_hz});
}

} // namespace

namespace {

// Of its power over log frequency, in octaves above 1 Hz.
double middle_oct(const Curve& curve) {
    double power = 0, moment = 0;
    for (std::size_t i = 1; i < curve.frequency_hz.size(); ++i) {
        const double octaves = std::log2(curve.frequency_hz[i] / curve.frequency_hz[i - 1]);
        const double share = power_from_db(curve.magnitude_db[i]) * octaves;
        power += share;
        moment += share * std::log2(curve.frequency_hz[i]);
    }
    return power > 0 ? moment / power : 0;
}

} // namespace

std::vector<WayOffer> ways_by_range(const Study& study, const WayPlace& asking, Briefs& briefs) {
    std::vector<int> free;
    const auto ways = ways_around(study, asking);
    for (std::size_t i = 0; i < ways.size(); ++i) {
        if (!ways[i]) {
            free.push_back(static_cast<int>(i) + 1);
        }
    }
    if (free.empty()) { // as in every drag of one that is complete
        return {};
    }
    std::set<std::string> crossed;
    each_crossover(study,
                   [&](const FoundWay& way) { crossed.insert(study.channels[way.channel]->id); });
    std::vector<std::pair<double, std::string>> others;
    for (const auto& channel : study.channels) {
        const auto measured = briefs.measured_of(study, *channel);
        if (measured && *measured != nullptr && !crossed.contains(channel->id)) {
            others.emplace_back(middle_oct(*(*measured)->curve), channel->id);
        }
    }
    if (others.size() != free.size()) {
        return {};
    }
    std::ranges::sort(others);
    std::vector<WayOffer> offers;
    for (std::size_t i = 0; i < free.size(); ++i) {
        offers.push_back({free[i], others[i].second});
    }
    return offers;
}

Expected<void> align_ways(Study& study, std::span<const std::optional<WayPlace>> ways,
                          Briefs& briefs) {
    std::vector<Standing> standings(study.channels.size());
    int known = 0;
    std::string missing;
    for (const auto& way : ways) {
        if (!way) {
            continue;
        }
        Standing standing = standing_of_way(study, *way, briefs);
        known += standing.level_db && standing.arrival_s ? 1 : 0;
        if (!standing.missing.empty() && missing.empty()) {
            missing =
                fmt::format("“{}” is {}", channel_of(study, way->channel)->name, standing.missing);
        }
        standings[place_of_channel(study, way->channel)] = std::move(standing);
    }
    if (known < 2 || !missing.empty()) {
        return refuse("", !missing.empty() ? missing : "fewer than two ways have a channel",
                      "measure each way by an impulse response, and give each way its channel");
    }
    compare(standings);
    align(study, standings);
    return {};
}

std::vector<Problem> contradicting_crossovers(const Study& study) {
    std::map<std::string, FoundWay> first;
    std::vector<Problem> problems;
    each_crossover(study, [&](const FoundWay& way) {
        if (way.spec->link.empty()) {
            return;
        }
        const auto [one, is_new] = first.emplace(way.spec->link, way);
        if (!is_new && !share_the_same(*one->second.spec, *way.spec)) {
            const Channel& channel = *study.channels[way.channel];
            const Channel& other = *study.channels[one->second.channel];
            problems.push_back(
                {fmt::format("channels[{}].{}", way.channel, path_of(channel.stages, way.stage)),
                 fmt::format("is linked as “{}” but has other settings than the crossover of “{}”",
                             way.spec->link, other.name),
                 "give both the same, or another link"});
        }
    });
    return problems;
}

} // namespace syntonon
