// The chains that a channel's own is compared with on the bench.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/study.h"

#include <string>
#include <string_view>

namespace syntonon {

// One of the four.
struct ComparedChain {
    const Take* take = nullptr; // of the channel itself
    const Channel* channel = nullptr;
    const Delivery* words = nullptr; // in whose processor's words the channel itself is run

    bool state_variables = false; // the channel itself with state-variable filters for ladders

    std::string name() const;
};

// As Bench::compared names them.
std::string key_of(const Take& take);       // "take:<id>"
std::string key_of(const Channel& channel); // "channel:<id>"
// "words:<id>"
std::string key_of_words(const Delivery& delivery);

inline constexpr std::string_view key_of_state_variables = "state_variables";

// Refused, without a place, when the channel has no such take, the study no such channel or no such
// delivery for a processor, or that channel is analog and so has no samples.
Expected<ComparedChain> compared_chain(const Study& study, const Channel& channel,
                                       std::string_view key);

} // namespace syntonon
