// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/guessing.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

TEST(Guessing, IsTheBinomialTail) {
    EXPECT_EQ(probability_by_guessing(0, 0), 1);
    EXPECT_EQ(probability_by_guessing(0, 10), 1);
    EXPECT_NEAR(probability_by_guessing(10, 10), 1.0 / 1024, 1e-15);
    EXPECT_NEAR(probability_by_guessing(9, 10), 11.0 / 1024, 1e-14);
    EXPECT_NEAR(probability_by_guessing(12, 16), 2517.0 / 65536, 1e-13);
    EXPECT_NEAR(probability_by_guessing(1, 3), 7.0 / 8, 1e-14);
}

TEST(Guessing, HoldsForLongTests) {
    EXPECT_NEAR(probability_by_guessing(500, 1000), 0.5126, 1e-4);
    EXPECT_GT(probability_by_guessing(1000, 1000), 0);
}

} // namespace
} // namespace syntonon
