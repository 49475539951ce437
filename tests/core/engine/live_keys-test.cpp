// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/live_keys.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

TEST(LiveKeys, KnowHowOftenAndHowHard) {
    LiveKeys keys;
    EXPECT_EQ(keys.at(60), LiveKeys::State());
    keys.press(60, 1);
    EXPECT_EQ(keys.at(60).presses, 1u);
    EXPECT_EQ(keys.at(60).velocity, 1);
    keys.press(60, 1e-9);
    EXPECT_EQ(keys.at(60).presses, 2u) << "again, without being let go";
    EXPECT_GT(keys.at(60).velocity, 0);
    keys.release(60);
    EXPECT_EQ(keys.at(60).presses, 2u);
    EXPECT_EQ(keys.at(60).velocity, 0);
    keys.press(0, 0.5);
    keys.press(127, 0.5);
    keys.release_all();
    EXPECT_EQ(keys.at(0).velocity + keys.at(127).velocity, 0);
}

} // namespace
} // namespace syntonon
