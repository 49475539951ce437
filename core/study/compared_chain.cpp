// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/compared_chain.h"

#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr std::string_view take_prefix = "take:", channel_prefix = "channel:";

} // namespace

std::string key_of(const Take& take) {
    return std::string(take_prefix) + take.id;
}

std::string key_of(const Channel& channel) {
    return std::string(channel_prefix) + channel.id;
}

Expected<ComparedChain> compared_chain(const Study& study, const Channel& channel,
                                       std::string_view key) {
    constexpr const char* way_out = "name one of the channel's takes as take:<id> or another "
                                    "sampled channel as channel:<id>";
    ComparedChain found;
    if (key.starts_with(take_prefix)) {
        found.take = take_of(channel, key.substr(take_prefix.size()));
    } else if (key.starts_with(channel_prefix)) {
        found.channel = channel_of(study, key.substr(channel_prefix.size()));
    } else {
        return refuse("", fmt::format("“{}” names no chain", key), way_out);
    }
    if (found.take == nullptr && found.channel == nullptr) {
        return refuse("", fmt::format("there is no chain “{}”", key), way_out);
    }
    if (found.channel != nullptr && found.channel->domain == Domain::analog) {
        return refuse("", fmt::format("“{}” is analog and has no samples", key), way_out);
    }
    return found;
}

} // namespace syntonon
