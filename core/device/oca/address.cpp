// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/oca/address.h"

#include <algorithm>
#include <charconv>
#include <fmt/format.h>

namespace syntonon::oca {
namespace {

bool may_stand_in_host(char c) {
    return c > ' ' && c < 0x7f && c != '[' && c != ']' && c != '/';
}

} // namespace

Expected<Address> address_from_text(std::string_view text) {
    const auto first = text.find_first_not_of(" \t");
    text = first == std::string_view::npos
               ? std::string_view()
               : text.substr(first, text.find_last_not_of(" \t") + 1 - first);
    const auto colon = text.rfind(':');
    const bool has_brackets = text.starts_with('[');
    if (colon == std::string_view::npos || (has_brackets && text[colon - 1] != ']')) {
        return refuse("", fmt::format("“{}” says no port", text),
                      "write host:port, as rack.local:65000");
    }
    std::string_view host = text.substr(0, colon);
    const std::string_view digits = text.substr(colon + 1);
    if (has_brackets) {
        host = host.substr(1, host.size() - 2);
    }
    const bool is_plain = has_brackets || host.find(':') == std::string_view::npos;
    if (host.empty() || host.size() > 253 || !is_plain
        || !std::ranges::all_of(host, may_stand_in_host)) {
        return refuse("", fmt::format("“{}” is no host", host),
                      "write a name or an address, of IPv6 in brackets: [2001:db8::7]:65000");
    }
    std::uint16_t port = 0;
    const auto read = std::from_chars(digits.data(), digits.data() + digits.size(), port);
    if (read.ec != std::errc() || read.ptr != digits.data() + digits.size() || port == 0) {
        return refuse("", fmt::format("“{}” is no port", digits), "write one of 1 to 65535");
    }
    return Address{std::string(host), port};
}

std::string text_of(const Address& address) {
    return address.host.find(':') == std::string::npos
               ? fmt::format("{}:{}", address.host, address.port)
               : fmt::format("[{}]:{}", address.host, address.port);
}

} // namespace syntonon::oca
