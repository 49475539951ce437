// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/oca/address.h"

#include <gtest/gtest.h>

namespace syntonon::oca {
namespace {

TEST(OcaAddress, IsAHostAndAPort) {
    EXPECT_EQ(address_from_text(" rack.local:65000 "), (Address{"rack.local", 65000}));
    EXPECT_EQ(address_from_text("192.0.2.7:1"), (Address{"192.0.2.7", 1}));
    EXPECT_EQ(address_from_text("[2001:db8::7]:80"), (Address{"2001:db8::7", 80}));
    for (const char* text : {"rack.local:65000", "[2001:db8::7]:80"}) {
        EXPECT_EQ(text_of(*address_from_text(text)), text);
    }
}

TEST(OcaAddress, WhatIsNoneSaysWhatIsMissing) {
    for (const auto& [text, reason] :
         {std::pair("rack.local", "no port"), std::pair("", "no port"), std::pair(":80", "no host"),
          std::pair("2001:db8::7:80", "no host"), std::pair("[2001:db8::7]", "no port"),
          std::pair("rack:0", "no port"), std::pair("rack:70000", "no port"),
          std::pair("rack:8a", "no port"), std::pair("a rack:80", "no host"),
          std::pair("a/b:80", "no host"), std::pair("[:80", "no port")}) {
        const auto address = address_from_text(text);
        ASSERT_FALSE(address) << text;
        EXPECT_NE(address.error().reason.find(reason), std::string::npos)
            << text << ": " << address.error().reason;
        EXPECT_FALSE(address.error().way_out.empty());
    }
}

} // namespace
} // namespace syntonon::oca
