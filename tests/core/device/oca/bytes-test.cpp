// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/oca/bytes.h"

#include <gtest/gtest.h>

namespace syntonon::oca {
namespace {

TEST(OcaBytes, AreBigEndian) {
    Writer out;
    out.u8(1).u16(0x0203).u32(0x04050607).f32(1).boolean(true);
    EXPECT_EQ(out.bytes(), (Bytes{1, 2, 3, 4, 5, 6, 7, 0x3f, 0x80, 0, 0, 1}));
    Reader in(out.bytes());
    EXPECT_EQ(in.u8(), 1);
    EXPECT_EQ(in.u16(), 0x0203);
    EXPECT_EQ(in.u32(), 0x04050607u);
    EXPECT_EQ(in.f32(), 1.0f);
    EXPECT_TRUE(in.boolean());
    EXPECT_TRUE(in.is_at_end());
}

// The count is that of characters, not of bytes.
TEST(OcaBytes, TextCountsCharacters) {
    Writer out;
    out.text("Höhe");
    EXPECT_EQ(out.bytes(), (Bytes{0, 4, 'H', 0xc3, 0xb6, 'h', 'e'}));
    Reader in(out.bytes());
    EXPECT_EQ(in.text(), "Höhe");
    EXPECT_TRUE(in.is_at_end());
}

TEST(OcaBytes, WhatIsNotThereIsNotRead) {
    const Bytes three = {0, 9, 1};
    for (const auto read : {+[](Reader& in) { in.u32(); }, +[](Reader& in) { in.text(); },
                            +[](Reader& in) { in.blob(); }, +[](Reader& in) { in.floats(); }}) {
        Reader in(three);
        read(in);
        EXPECT_FALSE(in.ok());
        EXPECT_EQ(in.u8(), 0) << "nothing after it either";
        EXPECT_FALSE(in.is_at_end());
    }
    Reader hostile(Bytes{0xff, 0xff, 0, 0});
    EXPECT_TRUE(hostile.floats().empty()) << "no room for what cannot be there";
}

TEST(OcaBytes, TextThatIsNoUtf8IsRefused) {
    for (const Bytes& bytes : {Bytes{0, 1, 0x80}, Bytes{0, 1, 0xc3, 0x28}, Bytes{0, 1, 0xc0, 0x80},
                               Bytes{0, 1, 0xff}, Bytes{0, 1, 0xe2, 0x82}}) {
        Reader in(bytes);
        in.text();
        EXPECT_FALSE(in.ok());
    }
}

} // namespace
} // namespace syntonon::oca
