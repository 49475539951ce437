// How a channel is looked at.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/study.h"

#include <string>
#include <tuple>

namespace syntonon {

// With which chain: the channel's own, or one of its takes as if it were that; and, beside the
// design, in whose words: those of a delivery's processor. They are judged then.
struct View {
    std::string take = {};  // its id; empty: the channel's own chain
    std::string words = {}; // the delivery's id; empty: as designed

    bool operator==(const View&) const = default;
};

// The channel's own where there is no such take.
inline const Chain& chain_of(const Channel& channel, const View& view) {
    const Take* take = take_of(channel, view.take);
    return take != nullptr ? take->stages : channel.stages;
}

// What is kept for each channel and view of it.
struct ChannelView {
    std::string channel; // its id
    View view;

    bool operator<(const ChannelView& other) const {
        return std::tie(channel, view.take, view.words)
               < std::tie(other.channel, other.view.take, other.view.words);
    }
};

} // namespace syntonon
