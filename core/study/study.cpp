// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/study.h"

#include "core/base/number_text.h"

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

} // namespace

const Curve* curve_of(const Study& study, std::string_view id) {
    return find_by_id(study.curves, id);
}

const NamedGate* gate_of(const Study& study, std::string_view id) {
    const auto found = std::ranges::find(study.gates, id, &NamedGate::id);
    return found == study.gates.end() ? nullptr : &*found;
}

const Curve* microphone_of(const Study& study, std::string_view id) {
    return find_by_id(study.microphones, id);
}

const Goal* goal_of(const Study& study, std::string_view id) {
    return find_by_id(study.goals, id);
}

const Signal* signal_of(const Study& study, std::string_view id) {
    return find_by_id(study.test_signals, id);
}

const Channel* channel_of(const Study& study, std::string_view id) {
    return find_by_id(study.channels, id);
}

const Delivery* delivery_of(const Study& study, std::string_view id) {
    const auto found = std::ranges::find(study.deliveries, id, &Delivery::id);
    return id.empty() || found == study.deliveries.end() ? nullptr : &*found;
}

const Processor* processor_of(const Study& study, std::string_view id) {
    const Processor* own = find_by_id(study.processors, id);
    return own != nullptr ? own : shipped_processor(id);
}

const Goal* goal_of(const Study& study, const Channel& channel) {
    return goal_of(study, channel.goal);
}

std::string place_of(const Study& study, const Channel& channel) {
    const auto found = std::ranges::find_if(
        study.channels, [&](const auto& other) { return other->id == channel.id; });
    return found != study.channels.end()
               ? fmt::format("channels[{}]", found - study.channels.begin())
               : std::string();
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
               || gate_of(study, id) != nullptr || microphone_of(study, id) != nullptr
               || channel_of(study, id) != nullptr || signal_of(study, id) != nullptr
               || std::ranges::find(study.deliveries, id, &Delivery::id) != study.deliveries.end();
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

} // namespace syntonon
