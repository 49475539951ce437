// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/midi_keys.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

struct Heard {
    std::shared_ptr<LiveKeys> keys = std::make_shared<LiveKeys>();
    MidiMessages messages{keys};

    void take(std::initializer_list<unsigned char> message) {
        messages.take(std::vector<unsigned char>(message));
    }
    double velocity(std::size_t key) const { return keys->at(key).velocity; }
};

TEST(MidiMessages, PressAndLetGo) {
    Heard heard;
    heard.take({0x90, 60, 127});
    heard.take({0x9F, 64, 1}); // any channel
    EXPECT_EQ(heard.velocity(60), 1);
    EXPECT_GT(heard.velocity(64), 0);
    heard.take({0x80, 60, 40});
    heard.take({0x9F, 64, 0}); // as good as off
    EXPECT_EQ(heard.velocity(60) + heard.velocity(64), 0);
    EXPECT_EQ(heard.keys->at(60).presses, 1u);
}

TEST(MidiMessages, ThePedalHoldsWhatIsLetGo) {
    Heard heard;
    heard.take({0x90, 60, 100});
    heard.take({0xB0, 64, 127});
    heard.take({0x80, 60, 0});
    EXPECT_GT(heard.velocity(60), 0);
    heard.take({0x90, 62, 100});
    heard.take({0xB0, 64, 0});
    EXPECT_EQ(heard.velocity(60), 0);
    EXPECT_GT(heard.velocity(62), 0) << "that is still held by hand";
}

TEST(MidiMessages, AllNotesOff) {
    Heard heard;
    heard.take({0x90, 60, 100});
    heard.take({0x90, 61, 100});
    heard.take({0xB3, 123, 0});
    EXPECT_EQ(heard.velocity(60) + heard.velocity(61), 0);
}

TEST(MidiMessages, WhatIsCutOffOrOfAnotherKindDoesNothing) {
    Heard heard;
    heard.take({});
    heard.take({0x90, 60});
    heard.take({0x90, 200, 100});
    heard.take({0x90, 60, 200});
    heard.take({0xE0, 60, 100});
    heard.take({0xF8});
    heard.take({0xF0, 0x7E, 0x7F, 0x09, 0x01, 0xF7});
    for (std::size_t key = 0; key < LiveKeys::count; ++key) {
        EXPECT_EQ(heard.keys->at(key), LiveKeys::State());
    }
}

TEST(MidiKeys, OfAnInputThatIsNotThereSaysSo) {
    const auto opened = MidiKeys::open("a keyboard that nobody has", std::make_shared<LiveKeys>());
    ASSERT_FALSE(opened);
    EXPECT_FALSE(opened.error().way_out.empty());
}

} // namespace
} // namespace syntonon
