// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/device/faults.h"

#include <algorithm>
#include <charconv>
#include <fmt/format.h>
#include <optional>

namespace syntonon::oca {
namespace {

constexpr std::array<std::string_view, all_faults.size()> keys = {
    "drop", "drop_done", "delay", "refuse", "full", "wrong_read_back", "reboot"};

std::optional<int> number_from(std::string_view text) {
    int value = 0;
    const auto read = std::from_chars(text.data(), text.data() + text.size(), value);
    const bool is_whole = read.ec == std::errc() && read.ptr == text.data() + text.size();
    return is_whole && value > 0 ? std::optional(value) : std::nullopt;
}

} // namespace

std::string_view key_of(FaultKind kind) {
    return keys[static_cast<std::size_t>(kind)];
}

Expected<Fault> fault_from_text(std::string_view text) {
    const auto at = text.find('@');
    const auto kind = std::ranges::find(keys, text.substr(0, at));
    if (at == std::string_view::npos || kind == keys.end()) {
        return refuse(
            "", fmt::format("“{}” is no fault", text),
            fmt::format("write one of {}, and at which call: drop@3", fmt::join(keys, ", ")));
    }
    Fault fault;
    fault.kind = all_faults[static_cast<std::size_t>(kind - keys.begin())];
    const std::string_view rest = text.substr(at + 1);
    const auto colon = rest.find(':');
    const auto place = number_from(rest.substr(0, colon));
    const auto delay = colon == std::string_view::npos ? std::optional(fault.delay_ms)
                                                       : number_from(rest.substr(colon + 1));
    if (!place || !delay) {
        return refuse("", fmt::format("“{}” says no call", text),
                      "write a whole number from 1: drop@3, delay@5:400");
    }
    fault.at = *place;
    fault.delay_ms = *delay;
    return fault;
}

} // namespace syntonon::oca
