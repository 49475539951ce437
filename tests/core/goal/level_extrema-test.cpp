// Peaks and notches where their closed forms have them.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/level_extrema.h"

#include "core/base/units.h"
#include "core/design/parametric.h"
#include "core/filter/form.h"
#include "tests/support/rate.h"
#include "tests/support/section.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

ExtremaSearch up_to(double high_hz) {
    return {10, high_hz, rate};
}

TEST(LevelExtrema, OfACombLieAtItsTeeth) {
    // y[n] = x[n] + 0.7 x[n - 100]: notches at odd, peaks at even multiples of 240 Hz.
    const Filter comb(ParallelSum{{{1, Filter()}, {0.7, Filter(Delay{100})}}});
    const LevelExtrema all = level_extrema(comb, up_to(24000));
    EXPECT_TRUE(all.is_complete);
    ASSERT_EQ(all.found.size(), 99u);
    for (std::size_t i = 0; i < all.found.size(); ++i) {
        const double hz = 240 * static_cast<double>(i + 1);
        EXPECT_NEAR(all.found[i].hz, hz, 1e-3 * hz);
        EXPECT_EQ(all.found[i].is_peak, i % 2 == 1);
        EXPECT_NEAR(all.found[i].level_db, db_from_ratio(all.found[i].is_peak ? 1.7 : 0.3), 1e-6);
    }
}

TEST(LevelExtrema, AZeroOnTheCircleIsWithoutEnd) {
    const Filter comb(ParallelSum{{{0.5, Filter()}, {0.5, Filter(Delay{10})}}});
    const LevelExtrema all = level_extrema(comb, up_to(24000));
    ASSERT_EQ(all.found.size(), 9u);
    EXPECT_EQ(all.found[0].level_db, -infinity);
    EXPECT_NEAR(all.found[0].hz, 2400, 1e-6);
}

TEST(LevelExtrema, NarrowOnesAreNotSteppedOver) {
    const Filter notch = section(ParametricShape::notch, 1234.5, 0, 5000);
    const LevelExtrema all = level_extrema(notch, up_to(24000));
    ASSERT_EQ(all.found.size(), 1u);
    EXPECT_NEAR(all.found[0].hz, 1234.5, 0.01);
    EXPECT_FALSE(all.found[0].is_peak);
}

TEST(LevelExtrema, EndsAndTremblingsAreNone) {
    EXPECT_TRUE(
        level_extrema(section(ParametricShape::low_pass, 900, 0, 0.5), up_to(24000)).found.empty());
    EXPECT_TRUE(level_extrema(Filter(), up_to(24000)).found.empty());
    // Ripples of 0.09 dB from crest to trough.
    const Filter weak(ParallelSum{{{1, Filter()}, {0.005, Filter(Delay{30})}}});
    EXPECT_TRUE(level_extrema(weak, up_to(24000)).found.empty());
}

TEST(LevelExtrema, OfManyTheLowestAreListed) {
    const Filter comb(ParallelSum{{{1, Filter()}, {0.7, Filter(Delay{48000})}}});
    const LevelExtrema all = level_extrema(comb, up_to(24000));
    EXPECT_FALSE(all.is_complete);
    ASSERT_GT(all.found.size(), 100u);
    EXPECT_NEAR(all.found[0].hz, 10.5, 1e-3);
    EXPECT_NEAR(all.found[1].hz, 11, 1e-3);
}

} // namespace
} // namespace syntonon
