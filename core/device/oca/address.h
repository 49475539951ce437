// Where a device is to be reached.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <cstdint>
#include <string>
#include <string_view>

namespace syntonon::oca {

struct Address {
    std::string host; // a name, or an address; of IPv6 without brackets
    std::uint16_t port = 0;

    bool operator==(const Address&) const = default;
};

// "rack.local:65000", "192.0.2.7:65000", "[2001:db8::7]:65000". The standard has no usual port, so
// one is always said.
Expected<Address> address_from_text(std::string_view text);
std::string text_of(const Address& address);

} // namespace syntonon::oca
