// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/object_choices.h"

#include "core/device/object_stages.h"
#include "core/device/stage_on_objects.h"

#include <algorithm>
#include <set>
#include <utility>

namespace syntonon::oca {
namespace {

std::vector<Objects> of_one_object(const Wanted& wanted, const Objects& all,
                                   double sample_rate_hz) {
    std::vector<Objects> choices;
    for (const DeviceObject* object : all) {
        const bool is_made = std::ranges::find(made_for_one, *object->kind) != made_for_one.end();
        if (is_made && setting_for(wanted.stage->spec, *object->kind, sample_rate_hz)) {
            choices.push_back({object});
        }
    }
    return choices;
}

// What goes along with the sections: an object for the delay, one for the taps.
std::vector<Objects> companions(const FilterSettings& parts, const Objects& all) {
    const Objects delays = of_kind(all, Kind::delay), firs = of_kind(all, Kind::fir_filter);
    Objects delay;
    if (parts.delay && !delays.empty()) {
        delay.push_back(delays.front());
    }
    if (!parts.taps && (!parts.delay || !delay.empty())) {
        return {delay};
    }
    std::vector<Objects> choices;
    for (const DeviceObject* fir : firs) {
        choices.push_back(delay);
        choices.back().push_back(fir);
    }
    return choices;
}

std::vector<Objects> of_parts(const Wanted& wanted, const Objects& all, double sample_rate_hz) {
    const auto parts = wanted.filter.and_then(
        [&](const Filter& filter) { return settings_for(filter, sample_rate_hz); });
    if (!parts) {
        return {};
    }
    const Objects polynomials = of_kind(all, Kind::polynomial_filter);
    const std::size_t needed = parts->sections.size();
    std::vector<Objects> choices;
    for (const Objects& others : companions(*parts, all)) {
        const std::size_t starts =
            needed == 0 ? 1 : polynomials.size() - std::min(needed - 1, polynomials.size());
        for (std::size_t at = 0; at < starts; ++at) {
            const auto first = polynomials.begin() + static_cast<std::ptrdiff_t>(at);
            Objects chosen(first, first + static_cast<std::ptrdiff_t>(needed));
            chosen.insert(chosen.end(), others.begin(), others.end());
            if (!chosen.empty()) {
                choices.push_back(std::move(chosen));
            }
        }
    }
    return choices;
}

bool share_one(const std::vector<std::string>& a, const std::vector<std::string>& b) {
    return std::ranges::find_first_of(a, b) != a.end();
}

DeviceChannel& channel_in(DeviceTarget& target, const std::string& id) {
    auto found = std::ranges::find(target.channels, id, &DeviceChannel::channel);
    if (found == target.channels.end()) {
        target.channels.push_back({id, {}, {}});
        found = std::prev(target.channels.end());
    }
    return *found;
}

} // namespace

std::vector<ObjectChoice> choices_for(const Study& study, const Delivery& delivery,
                                      const DeviceTree& tree, const std::string& channel,
                                      const std::string& stage, Briefs& briefs) {
    const Channel* wanted_channel = channel_of(study, channel);
    const auto said = std::ranges::find(delivery.device.channels, channel, &DeviceChannel::channel);
    if (wanted_channel == nullptr || said == delivery.device.channels.end()) {
        return {};
    }
    const std::vector<Wanted> all = wanted_of(study, *wanted_channel, briefs);
    const auto wanted =
        std::ranges::find_if(all, [&](const Wanted& one) { return one.stage->id == stage; });
    if (wanted == all.end() || wanted->is_waiting) {
        return {};
    }
    const Objects objects = settable_in(tree, said->block);
    std::vector<Objects> choices = of_one_object(*wanted, objects, study.sample_rate_hz);
    for (Objects& parts : of_parts(*wanted, objects, study.sample_rate_hz)) {
        if (std::ranges::find(choices, parts) == choices.end()) {
            choices.push_back(std::move(parts));
        }
    }
    for (const DeviceObject* curve : of_kind(objects, Kind::curve_filter)) {
        choices.push_back({curve});
    }
    choices.resize(std::min(choices.size(), most_choices));
    std::vector<ObjectChoice> made;
    for (const Objects& chosen : choices) {
        ObjectChoice& choice = made.emplace_back();
        for (const DeviceObject* object : chosen) {
            choice.objects.push_back(object->path);
        }
        for (const ObjectsOfStage& other : said->stages) {
            if (other.stage != stage && share_one(other.objects, choice.objects)) {
                choice.in_use_by.push_back(other.stage);
            }
        }
        if (auto fits = fitting_settings(*wanted, chosen, study.sample_rate_hz); !fits) {
            choice.problem = fits.error();
        }
    }
    return made;
}

DeviceTarget with_choice(DeviceTarget target, const std::string& channel, const std::string& stage,
                         const std::vector<std::string>& objects) {
    DeviceChannel& said = channel_in(target, channel);
    std::erase_if(said.stages, [&](const ObjectsOfStage& other) {
        return other.stage == stage || share_one(other.objects, objects);
    });
    if (!objects.empty()) {
        said.stages.push_back({stage, objects});
    }
    return target;
}

DeviceTarget with_block(DeviceTarget target, const std::string& channel, const std::string& block) {
    for (DeviceChannel& other : target.channels) {
        if (other.channel != channel && other.block == block) {
            other.block.clear();
            other.stages.clear();
        }
    }
    DeviceChannel& said = channel_in(target, channel);
    if (said.block != block) {
        said.block = block;
        said.stages.clear();
    }
    return target;
}

} // namespace syntonon::oca
