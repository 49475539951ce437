// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/sound_channels.h"

#include "tests/support/scratch.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

TEST(SoundChannels, AreReadAsTheyWereWritten) {
    const test::Scratch scratch;
    const auto path = scratch.file("three.wav");
    const std::vector<std::vector<double>> channels = {{0.5, 1.75, -3}, {0, 0.25, 0}, {1, 2, 4}};
    ASSERT_TRUE(write_sound_channels(path, {96'000, channels, {}}));
    const auto read = sound_channels(path, 3);
    ASSERT_TRUE(read) << to_text(read.error());
    EXPECT_EQ(read->sample_rate_hz, 96'000);
    EXPECT_EQ(read->channels, channels);
    EXPECT_TRUE(read->notes.empty());
    EXPECT_FALSE(sound_channels(path, 2)) << "longer than was asked for";
}

TEST(SoundChannels, AFolderThatIsNotThereIsSaid) {
    const auto written = write_sound_channels("/nowhere/at/all.wav", {48'000, {{1.0}}, {}});
    ASSERT_FALSE(written);
    EXPECT_NE(to_text(written.error()).find("/nowhere/at/all.wav"), std::string::npos);
}

} // namespace
} // namespace syntonon
