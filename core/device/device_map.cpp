// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/device_map.h"

#include "core/device/object_stages.h"
#include "core/study/chain.h"
#include "core/study/delivery_budget.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <set>
#include <span>
#include <utility>

namespace syntonon::oca {
namespace {

using Objects = std::vector<const DeviceObject*>;

// Kinds of which one object is made for one stage.
constexpr std::array made_for_one = {Kind::parametric_filter, Kind::classical_filter, Kind::gain,
                                     Kind::polarity, Kind::delay};

bool is_made_for_one(Kind kind) {
    return std::ranges::find(made_for_one, kind) != made_for_one.end();
}

// Those within a block that can be set, in the device's order; not what only mutes.
Objects settable_in(const DeviceTree& tree, const std::string& block) {
    Objects objects;
    for (const DeviceObject& object : tree.objects) {
        if (object.state && object.kind != Kind::mute && object.path.starts_with(block + "/")) {
            objects.push_back(&object);
        }
    }
    return objects;
}

Expected<void> check_object(const DeviceObject& object, const Setting& setting,
                            double sample_rate_hz) {
    const auto& rate = object.state->limits.sample_rate_hz;
    if (rate && *rate > 0 && std::abs(*rate - sample_rate_hz) > 1e-6 * sample_rate_hz
        && !is_made_for_one(*object.kind)) {
        return refuse(object.path,
                      fmt::format("runs at {} Hz, the study at {} Hz", *rate, sample_rate_hz),
                      "set one of them to the other's rate");
    }
    auto ok = check_within(setting, object.state->limits);
    return ok ? ok : tl::unexpected(within(object.path, ok.error()));
}

Objects of_kind(std::span<const DeviceObject* const> objects, Kind kind) {
    Objects some;
    std::ranges::copy_if(objects, std::back_inserter(some),
                         [&](const DeviceObject* object) { return object->kind == kind; });
    return some;
}

FirSetting delayed(FirSetting taps, double seconds, double sample_rate_hz) {
    const auto samples = static_cast<std::ptrdiff_t>(std::llround(seconds * sample_rate_hz));
    taps.taps.insert(taps.taps.begin(), static_cast<std::size_t>(samples), 0.0f);
    return taps;
}

// A stage and what it does by itself.
struct Wanted {
    const Stage* stage;
    Expected<Filter> filter;
    bool is_waiting = false;
};

// What a filter in parts needs of each kind.
tl::unexpected<Problem> too_few(std::string_view what, std::size_t needed, std::size_t chosen) {
    return refuse("",
                  fmt::format("needs {} {}, and {} chosen", needed, what,
                              chosen == 0   ? "none is"
                              : chosen == 1 ? "one is"
                                            : fmt::format("{} are", chosen)),
                  "choose more, or another output");
}

// Sections, taps and delay to the objects of their kinds, in order.
Expected<std::vector<Setting>> settings_in_parts(const Filter& filter,
                                                 std::span<const DeviceObject* const> objects,
                                                 double sample_rate_hz) {
    auto parts = settings_for(filter, sample_rate_hz);
    if (!parts) {
        return tl::unexpected(parts.error());
    }
    const std::size_t polynomials = of_kind(objects, Kind::polynomial_filter).size();
    const std::size_t firs = of_kind(objects, Kind::fir_filter).size();
    const bool has_delay = !of_kind(objects, Kind::delay).empty();
    if (parts->sections.size() > polynomials) {
        return too_few("polynomial objects for its sections", parts->sections.size(), polynomials);
    }
    if (parts->taps && firs == 0) {
        return too_few("FIR object for its taps", 1, 0);
    }
    if (parts->delay && !has_delay) {
        if (firs == 0) {
            return too_few("object for its delay", 1, 0);
        }
        parts->taps =
            delayed(parts->taps.value_or(FirSetting{}), parts->delay->seconds, sample_rate_hz);
    }
    std::vector<Setting> settings;
    std::size_t section = 0;
    for (const DeviceObject* object : objects) {
        if (object->kind == Kind::polynomial_filter) {
            settings.emplace_back(section < parts->sections.size() ? parts->sections[section]
                                                                   : PolynomialSetting{});
            ++section;
        } else if (object->kind == Kind::fir_filter) {
            settings.emplace_back(std::exchange(parts->taps, {}).value_or(FirSetting{}));
        } else if (object->kind == Kind::delay) {
            settings.emplace_back(std::exchange(parts->delay, {}).value_or(DelaySetting{}));
        } else {
            return refuse(object->path,
                          fmt::format("{} takes no part of a filter", class_of(*object->kind).name),
                          "choose polynomial, FIR and delay objects");
        }
    }
    return settings;
}

Expected<std::vector<Setting>> settings_on(const Wanted& wanted,
                                           std::span<const DeviceObject* const> objects,
                                           double sample_rate_hz) {
    if (objects.size() == 1 && is_made_for_one(*objects[0]->kind)) {
        if (auto setting = setting_for(wanted.stage->spec, *objects[0]->kind, sample_rate_hz)) {
            return std::vector{std::move(*setting)};
        }
        if (objects[0]->kind != Kind::delay) {
            return refuse(
                objects[0]->path,
                fmt::format("{} cannot do this exactly", class_of(*objects[0]->kind).name),
                "choose polynomial objects");
        }
    }
    if (!wanted.filter) {
        return tl::unexpected(wanted.filter.error());
    }
    return settings_in_parts(*wanted.filter, objects, sample_rate_hz);
}

Expected<std::vector<Setting>> fitting_settings(const Wanted& wanted,
                                                std::span<const DeviceObject* const> objects,
                                                double sample_rate_hz) {
    auto settings = settings_on(wanted, objects, sample_rate_hz);
    for (std::size_t i = 0; settings && i < objects.size(); ++i) {
        if (auto ok = check_object(*objects[i], (*settings)[i], sample_rate_hz); !ok) {
            return tl::unexpected(ok.error());
        }
    }
    return settings;
}

std::vector<Wanted> wanted_of(const Study& study, const Channel& channel, Briefs& briefs) {
    const DesignedChain designed = briefs.design(study, channel);
    std::vector<Wanted> all;
    for (const Stage* stage : stages_that_count(channel.stages)) {
        const DesignedStage& made = designed.stages.at(stage->id);
        all.push_back({stage, made.filter, made.is_waiting});
    }
    return all;
}

// --- as the delivery has it ---

class ChannelMapper {
public:
    ChannelMapper(const Study& study, const DeviceTree& tree, const DeviceChannel& said)
        : rate_hz_(study.sample_rate_hz), tree_(tree), said_(said) {}

    MappedStage mapped(const Wanted& wanted) {
        MappedStage made{wanted.stage->id, title_of(*wanted.stage), {}, {}, {}};
        const auto said = std::ranges::find(said_.stages, made.stage, &ObjectsOfStage::stage);
        if (said != said_.stages.end()) {
            made.objects = said->objects;
        }
        auto settings = settings_of(wanted, made.objects);
        if (settings) {
            made.settings = std::move(*settings);
        } else {
            made.problem = settings.error();
        }
        return made;
    }
    std::vector<std::string> unused() const {
        std::vector<std::string> paths;
        for (const DeviceObject* object : settable_in(tree_, said_.block)) {
            if (!taken_.contains(object->path)) {
                paths.push_back(object->path);
            }
        }
        return paths;
    }

private:
    Expected<std::vector<Setting>> settings_of(const Wanted& wanted,
                                               const std::vector<std::string>& paths) {
        if (paths.empty()) {
            return refuse("", "no object of the device is chosen for it",
                          "choose one, or switch the stage off");
        }
        if (wanted.is_waiting) {
            return refuse("", "it is being designed", "wait a moment");
        }
        Objects objects;
        for (const std::string& path : paths) {
            const DeviceObject* object = tree_.at_path(path);
            if (object == nullptr || !object->state || !path.starts_with(said_.block + "/")) {
                return refuse(path,
                              object == nullptr ? "is not in the device"
                                                : "cannot be set for this output",
                              "choose another object, or let them be proposed anew");
            }
            if (!taken_.insert(path).second) {
                return refuse(path, "is used by another stage, too", "choose another object");
            }
            objects.push_back(object);
        }
        return fitting_settings(wanted, objects, rate_hz_);
    }

    double rate_hz_;
    const DeviceTree& tree_;
    const DeviceChannel& said_;
    std::set<std::string, std::less<>> taken_;
};

std::optional<Problem> problem_of(const Channel& channel, const DeviceChannel& said,
                                  const DeviceTree& tree) {
    if (channel.domain == Domain::analog) {
        return Problem{"", "is analog, and a device works in samples",
                       "map it into a sampled channel"};
    }
    if (said.block.empty()) {
        return Problem{"", "has no output of the device", "choose one"};
    }
    const DeviceObject* block = tree.at_path(said.block);
    if (block == nullptr || block->kind != Kind::block) {
        return Problem{"", fmt::format("its output “{}” is not in the device", said.block),
                       "choose another one"};
    }
    return std::nullopt;
}

DeviceChannel said_of(const Delivery& delivery, const std::string& channel) {
    const auto& all = delivery.device.channels;
    const auto found = std::ranges::find(all, channel, &DeviceChannel::channel);
    return found != all.end() ? *found : DeviceChannel{channel, {}, {}};
}

// --- a proposal ---

// Objects of one output that are still free.
class Proposer {
public:
    Proposer(const DeviceTree& tree, const std::string& block, double rate_hz)
        : free_(settable_in(tree, block)), rate_hz_(rate_hz) {}

    void take(const std::vector<std::string>& paths) {
        std::erase_if(free_, [&](const DeviceObject* object) {
            return std::ranges::find(paths, object->path) != paths.end();
        });
    }
    // One that is made for it.
    std::vector<std::string> made_for(const Wanted& wanted) {
        for (const Kind kind : made_for_one) {
            for (const DeviceObject* object : of_kind(free_, kind)) {
                if (setting_for(wanted.stage->spec, kind, rate_hz_)
                    && fitting_settings(wanted, std::array{object}, rate_hz_)) {
                    return taken({object});
                }
            }
        }
        return {};
    }
    std::vector<std::string> for_parts(const Wanted& wanted) {
        const auto parts = wanted.filter.and_then(
            [&](const Filter& filter) { return settings_for(filter, rate_hz_); });
        if (!parts || wanted.is_waiting) {
            return {};
        }
        Objects chosen = of_kind(free_, Kind::polynomial_filter);
        chosen.resize(std::min(chosen.size(), parts->sections.size()));
        add_first(parts->delay, Kind::delay, chosen);
        const bool needs_taps =
            parts->taps || (parts->delay && of_kind(chosen, Kind::delay).empty());
        if (!needs_taps) {
            return fitting_settings(wanted, chosen, rate_hz_) ? taken(chosen)
                                                              : std::vector<std::string>();
        }
        for (const DeviceObject* fir : of_kind(free_, Kind::fir_filter)) {
            Objects with = chosen;
            with.push_back(fir);
            if (fitting_settings(wanted, with, rate_hz_)) {
                return taken(with);
            }
        }
        return {};
    }

private:
    void add_first(const std::optional<DelaySetting>& delay, Kind kind, Objects& to) const {
        for (const DeviceObject* object : of_kind(free_, kind)) {
            if (delay && check_object(*object, *delay, rate_hz_)) {
                to.push_back(object);
                return;
            }
        }
    }
    std::vector<std::string> taken(const Objects& objects) {
        std::vector<std::string> paths;
        for (const DeviceObject* object : objects) {
            paths.push_back(object->path);
        }
        take(paths);
        return paths;
    }

    Objects free_;
    double rate_hz_;
};

std::string plain(std::string_view text) {
    std::string all;
    for (const char c : text) {
        all += c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
    }
    return all;
}

// Blocks that hold filters; outputs, whatever they are called.
std::vector<const DeviceObject*> outputs_of(const DeviceTree& tree) {
    std::set<std::string_view> holders;
    for (const DeviceObject& object : tree.objects) {
        if (object.state && object.kind != Kind::mute) {
            holders.insert(object.block);
        }
    }
    std::vector<const DeviceObject*> blocks;
    for (const DeviceObject& object : tree.objects) {
        if (object.kind == Kind::block && holders.contains(object.path)) {
            blocks.push_back(&object);
        }
    }
    return blocks;
}

// By a label or role that names the channel, else the first that is free.
std::string proposed_block(const Channel& channel, const DeviceTree& tree,
                           const std::set<std::string, std::less<>>& taken) {
    std::string first;
    for (const DeviceObject* block : outputs_of(tree)) {
        if (taken.contains(block->path)) {
            continue;
        }
        if (plain(block->label) == plain(channel.name)
            || plain(block->role) == plain(channel.name)) {
            return block->path;
        }
        first = first.empty() ? block->path : first;
    }
    return first;
}

DeviceChannel proposed_channel(const Study& study, const Channel& channel, DeviceChannel said,
                               const DeviceTree& tree, Briefs& briefs) {
    const std::vector<Wanted> all = wanted_of(study, channel, briefs);
    ChannelMapper as_said(study, tree, said);
    Proposer proposer(tree, said.block, study.sample_rate_hz);
    std::vector<ObjectsOfStage> proposed(all.size());
    for (std::size_t i = 0; i < all.size(); ++i) {
        const MappedStage kept = as_said.mapped(all[i]);
        proposed[i].stage = kept.stage;
        if (!kept.problem) {
            proposed[i].objects = kept.objects;
            proposer.take(kept.objects);
        }
    }
    for (const auto way : {&Proposer::made_for, &Proposer::for_parts}) {
        for (std::size_t i = 0; i < all.size(); ++i) {
            if (proposed[i].objects.empty()) {
                proposed[i].objects = (proposer.*way)(all[i]);
            }
        }
    }
    std::erase_if(proposed, [](const ObjectsOfStage& stage) { return stage.objects.empty(); });
    said.stages = std::move(proposed);
    return said;
}

} // namespace

bool MappedChannel::fits() const {
    return !problem && std::ranges::none_of(stages, [](const MappedStage& stage) {
        return stage.problem.has_value();
    });
}

std::vector<MappedChannel> map_to_device(const Study& study, const Delivery& delivery,
                                         const DeviceTree& tree, Briefs& briefs) {
    std::vector<MappedChannel> all;
    std::set<std::string, std::less<>> blocks;
    for (const Channel* channel : channels_of(study, delivery)) {
        const DeviceChannel said = said_of(delivery, channel->id);
        MappedChannel mapped{
            channel->id, channel->name, said.block, {}, {}, problem_of(*channel, said, tree)};
        if (!mapped.problem && !blocks.insert(said.block).second) {
            mapped.problem =
                Problem{"", fmt::format("its output “{}” is another channel's, too", said.block),
                        "choose another one"};
        }
        if (!mapped.problem) {
            ChannelMapper mapper(study, tree, said);
            for (const Wanted& wanted : wanted_of(study, *channel, briefs)) {
                mapped.stages.push_back(mapper.mapped(wanted));
            }
            mapped.unused = mapper.unused();
        }
        all.push_back(std::move(mapped));
    }
    return all;
}

DeviceTarget proposed_target(const Study& study, const Delivery& delivery, const DeviceTree& tree,
                             Briefs& briefs) {
    DeviceTarget target = delivery.device;
    target.channels.clear();
    std::set<std::string, std::less<>> taken;
    for (const Channel* channel : channels_of(study, delivery)) {
        const DeviceChannel said = said_of(delivery, channel->id);
        if (!problem_of(*channel, said, tree)) {
            taken.insert(said.block);
        }
    }
    for (const Channel* channel : channels_of(study, delivery)) {
        DeviceChannel said = said_of(delivery, channel->id);
        if (problem_of(*channel, said, tree)) {
            said.block = channel->domain == Domain::analog ? std::string()
                                                           : proposed_block(*channel, tree, taken);
            taken.insert(said.block);
        }
        target.channels.push_back(
            said.block.empty() ? said
                               : proposed_channel(study, *channel, std::move(said), tree, briefs));
    }
    return target;
}

Expected<Chain> chain_from_output(const DeviceTree& tree, const std::string& block,
                                  double sample_rate_hz) {
    Chain chain;
    for (const DeviceObject& object : tree.objects) {
        const bool is_within = object.path.starts_with(block + "/");
        if (is_within && object.unreadable) {
            return tl::unexpected(within(object.path, *object.unreadable));
        }
        if (!is_within || !object.state || object.kind == Kind::mute) {
            continue;
        }
        auto spec = stage_from(object.state->setting, sample_rate_hz);
        if (!spec) {
            return tl::unexpected(within(object.path, spec.error()));
        }
        if (*spec) {
            Stage stage;
            stage.name = object.role;
            stage.spec = std::move(**spec);
            give_fresh_ids(stage, chain);
            chain.emplace_back(std::move(stage));
        }
    }
    return chain;
}

} // namespace syntonon::oca
