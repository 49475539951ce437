// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/window_side_lobes.h"

#include "core/math/window_facts.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

TEST(WindowSideLobes, AreWhatWasAskedFor) {
    for (const auto& [shape, level_db] : {std::pair{WindowShape::kaiser, -40.0},
                                          {WindowShape::kaiser, -90.0},
                                          {WindowShape::dolph_chebyshev, -65.0},
                                          {WindowShape::gaussian, -55.0},
                                          {WindowShape::tukey, -25.0},
                                          {WindowShape::cosine_power, -35.0}}) {
        const auto parameter = parameter_by_side_lobe(shape, level_db, 201);
        ASSERT_TRUE(parameter);
        const auto facts = window_facts(window_values({shape, *parameter, {}}, 201));
        EXPECT_NEAR(facts->side_lobe_db, level_db, 0.01) << static_cast<int>(shape);
    }
}

// J. F. Kaiser and R. W. Schafer, On the use of the I0-sinh window for spectrum analysis, IEEE
// Trans. ASSP 28, 1980: beta by the level of the side lobes, fitted.
TEST(WindowSideLobes, OfKaisersWindowFollowHisFormula) {
    for (const double down : {30.0, 50.0, 80.0, 110.0}) {
        const double beta = down > 60
                                ? 0.12438 * (down + 6.3)
                                : 0.76609 * std::pow(down - 13.26, 0.4) + 0.09834 * (down - 13.26);
        EXPECT_NEAR(*parameter_by_side_lobe(WindowShape::kaiser, -down, 1001), beta, 0.01 * beta);
    }
}

TEST(WindowSideLobes, TheNearestIsTakenWhereThereIsNone) {
    EXPECT_NEAR(*parameter_by_side_lobe(WindowShape::kaiser, -3, 101), 0, 1e-6);
    EXPECT_NEAR(*parameter_by_side_lobe(WindowShape::tukey, -60, 101), 1, 1e-6);
    EXPECT_EQ(*parameter_by_side_lobe(WindowShape::dolph_chebyshev, -1000, 101), 200);
    EXPECT_FALSE(parameter_by_side_lobe(WindowShape::hann, -40, 101));
    EXPECT_FALSE(parameter_by_side_lobe(WindowShape::kaiser, -40, 5));
}

} // namespace
} // namespace syntonon
