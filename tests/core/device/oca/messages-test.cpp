// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/oca/messages.h"

#include <gtest/gtest.h>

namespace syntonon::oca {
namespace {

Bytes from_hex(std::string_view text) {
    Bytes bytes;
    for (std::size_t i = 0; i + 1 < text.size(); ++i) {
        if (text[i] != ' ') {
            bytes.push_back(
                static_cast<std::uint8_t>(std::stoi(std::string(text.substr(i, 2)), nullptr, 16)));
            ++i;
        }
    }
    return bytes;
}

std::vector<Message> read(ByteView bytes) {
    MessageReader reader;
    const auto ok = reader.feed(bytes);
    EXPECT_TRUE(ok) << (ok ? "" : to_text(ok.error()));
    std::vector<Message> messages;
    while (reader.has_message()) {
        messages.push_back(reader.take());
    }
    return messages;
}

// Written out by AES70-3: sync, version, size, type, count; size, handle, object, method, count.
TEST(OcaMessages, StandAsTheStandardHasThem) {
    EXPECT_EQ(bytes_of(Command{1, 4096, {1, 5}, {}, true}),
              from_hex("3b 0001 0000001a 01 0001 00000011 00000001 00001000 0001 0005 00"));
    EXPECT_EQ(
        bytes_of(Command{2, 4097, {4, 2}, {1, from_hex("c0c00000")}, false}),
        from_hex("3b 0001 0000001e 00 0001 00000015 00000002 00001001 0004 0002 01 c0c00000"));
    EXPECT_EQ(bytes_of(Response{1, 0, {1, from_hex("0004 6761696e")}}),
              from_hex("3b 0001 00000019 03 0001 00000010 00000001 00 01 0004 6761696e"));
    EXPECT_EQ(
        bytes_of(Notification{0, {1, 1}, {}, 4097, {1, 1}, from_hex("0004 0001 c0c00000 01")}),
        from_hex("3b 0001 00000029 02 0001 00000020 00000000 0001 0001 02 0000 00001001 0001 "
                 "0001 0004 0001 c0c00000 01"));
    EXPECT_EQ(bytes_of(KeepAlive{1000}), from_hex("3b 0001 0000000b 04 0001 0001"));
    EXPECT_EQ(bytes_of(KeepAlive{250}), from_hex("3b 0001 0000000d 04 0001 000000fa"));
}

TEST(OcaMessages, ComeBackWholeAndInPieces) {
    const std::vector<Message> all = {Command{7, 100, {3, 5}, {}, true}, Response{7, 8, {}},
                                      Notification{0, {1, 1}, {1, 2}, 5, {1, 1}, {3, 4, 5}},
                                      KeepAlive{3000}, KeepAlive{1}};
    Bytes bytes;
    for (const Message& message : all) {
        const Bytes one = bytes_of(message);
        bytes.insert(bytes.end(), one.begin(), one.end());
    }
    EXPECT_EQ(read(bytes), all);
    MessageReader reader;
    std::vector<Message> got;
    for (const std::uint8_t byte : bytes) {
        ASSERT_TRUE(reader.feed({&byte, 1}));
        while (reader.has_message()) {
            got.push_back(reader.take());
        }
    }
    EXPECT_EQ(got, all);
}

TEST(OcaMessages, SeveralStandInOnePdu) {
    const auto got = read(from_hex("3b 0001 0000001d 03 0002 0000000a 00000001 00 00 "
                                   "0000000a 00000002 06 00"));
    ASSERT_EQ(got.size(), 2u);
    EXPECT_EQ(std::get<Response>(got[0]).handle, 1u);
    EXPECT_EQ(std::get<Response>(got[1]), (Response{2, 6, {}}));
}

TEST(OcaMessages, WhatIsNoOcpIsRefusedForGood) {
    for (const char* bad :
         {"48545450", "3b 0002 0000000b 04 0001 0001", "3b 0001 00000003 04 0001 0001",
          "3b 0001 7fffffff 01 0001", "3b 0001 0000000b 05 0001 0001",
          "3b 0001 0000000a 04 0001 00", "3b 0001 0000000b 04 0002 0001",
          "3b 0001 0000001a 01 0001 00000012 00000001 00001000 0001 0005 00",
          "3b 0001 0000001a 01 0001 00000002 00000001 00001000 0001 0005 00",
          "3b 0001 0000001a 01 0001 00000010 00000001 00001000 0001 0005 00",
          "3b 0001 0000001a 01 0002 00000011 00000001 00001000 0001 0005 00"}) {
        MessageReader reader;
        const Bytes good = bytes_of(KeepAlive{1000});
        ASSERT_TRUE(reader.feed(good));
        const auto ok = reader.feed(from_hex(bad));
        EXPECT_FALSE(ok) << bad;
        EXPECT_TRUE(reader.has_message()) << "what came before stays";
        EXPECT_FALSE(reader.feed(good)) << bad;
    }
}

TEST(OcaMessages, HoldNoMoreThanIsAllowed) {
    MessageReader reader(64);
    EXPECT_FALSE(reader.feed(from_hex("3b 0001 00000040 01 0001")));
    MessageReader enough(65);
    EXPECT_TRUE(enough.feed(from_hex("3b 0001 00000040 01 0001")));
}

} // namespace
} // namespace syntonon::oca
