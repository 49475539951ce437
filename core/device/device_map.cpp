// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/device_map.h"

#include "core/device/object_stages.h"
#include "core/device/stage_on_objects.h"
#include "core/study/chain.h"
#include "core/study/delivery_budget.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <set>
#include <utility>

namespace syntonon::oca {
namespace {

// --- as the delivery has it ---

class ChannelMapper {
public:
    ChannelMapper(const Study& study, const DeviceTree& tree, const DeviceChannel& said)
        : rate_hz_(study.sample_rate_hz), tree_(tree), said_(said) {}

    MappedStage mapped(const Wanted& wanted) {
        MappedStage made{wanted.stage->id, spoken_name_of(*wanted.stage), {}, {}, {}};
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
        if (!is_within || !object.state || object.state->is_off() || object.kind == Kind::mute) {
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
