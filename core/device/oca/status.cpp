// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/oca/status.h"

#include <array>
#include <string>

namespace syntonon::oca {
namespace {

struct StatusWords {
    std::string_view reason, way_out;
};

constexpr std::array<StatusWords, 16> all_words = {{
    {"done", ""},
    {"the device speaks another version of the protocol", "update the device or this program"},
    {"the device has failed", "look at the device"},
    {"it is locked by another controller", "unlock it there, or wait"},
    {"the device did not understand the message", "report it: it may be a fault of either side"},
    {"there is no such object", "read the device's objects anew"},
    {"a parameter is wrong", "choose another object or value"},
    {"a value is out of its range", "choose a value within the object's limits"},
    {"the device cannot do that", "choose another object"},
    {"the device cannot do that now", "look at the device's state"},
    {"the device could not do it", "look at the device"},
    {"the object has no such method", "choose another object"},
    {"it was done in part", "read the device back and send it again"},
    {"the device took too long", "send it again"},
    {"the device's memory is full", "send less, or free memory in the device"},
    {"it is not permitted", "ask for the right to set this device"},
}};

} // namespace

std::string_view words_of(Status status) {
    const auto place = static_cast<std::size_t>(status);
    return place < all_words.size() ? all_words[place].reason
                                    : "it answers with a status that is not known";
}

Problem refusal(Status status) {
    const auto place = static_cast<std::size_t>(status);
    return {"", std::string(words_of(status)),
            place < all_words.size() ? std::string(all_words[place].way_out)
                                     : "look at the device"};
}

} // namespace syntonon::oca
