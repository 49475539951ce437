// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/compared_chain.h"

#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr std::string_view take_prefix = "take:", channel_prefix = "channel:",
                           words_prefix = "words:";

} // namespace

std::string key_of(const Take& take) {
    return std::string(take_prefix) + take.id;
}

std::string key_of(const Channel& channel) {
    return std::string(channel_prefix) + channel.id;
}

std::string key_of_words(const Delivery& delivery) {
    return std::string(words_prefix) + delivery.id;
}

std::string ComparedChain::name() const {
    if (state_variables) {
        return "state-variable";
    }
    return take != nullptr ? take->name : channel != nullptr ? channel->name : words->name;
}

Expected<ComparedChain> compared_chain(const Study& study, const Channel& channel,
                                       std::string_view key) {
    constexpr const char* way_out = "name one of the channel's takes as take:<id>, another "
                                    "sampled channel as channel:<id>, a delivery for a "
                                    "processor as words:<id>, or state_variables";
    ComparedChain found;
    if (key == key_of_state_variables) {
        found.state_variables = true;
        return found;
    }
    if (key.starts_with(take_prefix)) {
        found.take = take_of(channel, key.substr(take_prefix.size()));
    } else if (key.starts_with(channel_prefix)) {
        found.channel = channel_of(study, key.substr(channel_prefix.size()));
    } else if (key.starts_with(words_prefix)) {
        const Delivery* delivery = delivery_of(study, key.substr(words_prefix.size()));
        found.words = delivery != nullptr && !delivery->processor.empty() ? delivery : nullptr;
    } else {
        return refuse("", fmt::format("“{}” names no chain", key), way_out);
    }
    if (found.take == nullptr && found.channel == nullptr && found.words == nullptr) {
        return refuse("", fmt::format("there is no chain “{}”", key), way_out);
    }
    if (found.channel != nullptr && found.channel->domain == Domain::analog) {
        return refuse("", fmt::format("“{}” is analog and has no samples", key), way_out);
    }
    return found;
}

} // namespace syntonon
