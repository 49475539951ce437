// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/harmonics.h"

#include "core/design/modelled_filter.h"
#include "core/filter/form.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

TEST(Harmonics, OfALinearFilterAreNone) {
    const auto found = harmonics_of(Filter(Gain{0.5}), 1000, 0.8, 48000);
    ASSERT_TRUE(found) << to_text(found.error());
    EXPECT_NEAR(found->tone_hz, 1000, 3);
    EXPECT_NEAR(found->level_db[0], 20 * std::log10(0.4), 1e-9);
    EXPECT_LT(found->level_db[1], -250);
    EXPECT_LT(found->distortion, 1e-12);
    EXPECT_LT(found->rest_db, -250);
}

// tanh x = x - x^3 / 3 + ...: of a sine of peak a, a third harmonic of a^3 / 12.
TEST(Harmonics, OfASoftBendAreThoseOfItsSeries) {
    modelled::StateVariableBuild build;
    build.saturating = true;
    build.response = modelled::StateVariableResponse::all_pass;
    const double peak = 0.2;
    const auto found =
        harmonics_of(modelled_filter(build, {1000, 0, 0, 0}, 48000), 750, peak, 48000);
    ASSERT_TRUE(found);
    EXPECT_NEAR(found->level_db[2], 20 * std::log10(peak * peak * peak / 12), 0.3);
    EXPECT_LT(found->level_db[1], -200);
    EXPECT_NEAR(found->distortion, peak * peak / 12, 0.05 * peak * peak / 12);
}

TEST(Harmonics, ASwingByItselfIsTheRest) {
    const auto found = harmonics_of(modelled_filter(modelled::LadderBuild(), {1234, 1.2, 0}, 48000),
                                    100, 1e-4, 48000);
    ASSERT_TRUE(found);
    EXPECT_GT(found->rest_db, -30);
}

TEST(Harmonics, RefusesFrequenciesOffTheAxis) {
    EXPECT_FALSE(harmonics_of(Filter(), 24000, 1, 48000));
    EXPECT_FALSE(harmonics_of(Filter(), 0, 1, 48000));
}

} // namespace
} // namespace syntonon
