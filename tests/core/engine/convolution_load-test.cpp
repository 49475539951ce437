// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/convolution_load.h"

#include <array>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

TEST(ConvolutionLoad, DirectGrowsWithTheTapsAndBlocksDoNot) {
    const std::array<std::size_t, 2> taps{256, 8192};
    const auto loads = measured_loads(taps, 64, 48000);
    ASSERT_TRUE(loads);
    ASSERT_EQ(loads->size(), 2U);
    EXPECT_GT((*loads)[0].direct, 0);
    EXPECT_GT((*loads)[0].block, 0);
    // 32 times the taps: a sum of products takes some 32 times as long, transforms far less.
    EXPECT_GT((*loads)[1].direct, 8 * (*loads)[0].direct);
    EXPECT_LT((*loads)[1].block, (*loads)[1].direct);
    EXPECT_EQ(usual_tap_counts().front(), 128U);
    EXPECT_EQ(usual_tap_counts().back(), 65536U);
}

TEST(ConvolutionLoad, BlocksBeginToBeCheaperBetweenTwoCounts) {
    const std::vector<ConvolutionLoad> loads{
        {100, 0.01, 0.03}, {200, 0.02, 0.03}, {400, 0.04, 0.03}};
    EXPECT_EQ(break_even_taps(loads), 300U);
    EXPECT_FALSE(break_even_taps(std::span(loads).first(2)));
    EXPECT_FALSE(break_even_taps({}));
}

TEST(ConvolutionLoad, CountsAreReadFromAList) {
    EXPECT_EQ(tap_counts_from("256, 1500,6000"), (std::vector<std::size_t>{256, 1500, 6000}));
    for (const char* wrong : {"", "256,,1", "0", "1.5", "1e9", "many"}) {
        EXPECT_FALSE(tap_counts_from(wrong)) << wrong;
    }
}

TEST(ConvolutionLoad, IsNotMeasuredOnceStopped) {
    Watch watch;
    watch.stop();
    EXPECT_FALSE(measured_loads(usual_tap_counts(), 64, 48000, watch));
}

} // namespace
} // namespace syntonon
