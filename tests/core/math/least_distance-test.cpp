// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/least_distance.h"

#include "tests/support/noise.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numeric>

namespace syntonon {
namespace {

TEST(NonNegativeLeastSquares, HoldsAtZeroWhatWouldBeNegative) {
    // Columns (1, 0) and (0, 1) towards (2, -3): the second stays 0.
    const auto x =
        nonnegative_least_squares(std::vector<double>{1, 0, 0, 1}, 2, std::vector<double>{2, -3});
    EXPECT_NEAR(x[0], 2, 1e-12);
    EXPECT_EQ(x[1], 0);
}

// The conditions of Kuhn and Tucker tell the least: no gradient into what may be, none along what
// is.
TEST(NonNegativeLeastSquares, SatisfiesTheConditionsOfTheLeast) {
    constexpr std::size_t rows = 30, columns = 12;
    const auto a = noise(rows * columns, 5), b = noise(rows, 6);
    const auto x = nonnegative_least_squares(a, columns, b);
    std::size_t free = 0;
    for (std::size_t j = 0; j < columns; ++j) {
        double fall = 0;
        for (std::size_t i = 0; i < rows; ++i) {
            const auto row = std::span(a).subspan(i * columns, columns);
            fall += row[j] * (b[i] - std::inner_product(row.begin(), row.end(), x.begin(), 0.0));
        }
        EXPECT_GE(x[j], 0);
        if (x[j] > 0) {
            ++free;
            EXPECT_NEAR(fall, 0, 1e-9) << j;
        } else {
            EXPECT_LT(fall, 1e-9) << j;
        }
    }
    EXPECT_GT(free, 2U);
    EXPECT_LT(free, columns);
}

TEST(LeastDistance, IsThatToTheNearestPointOfTheRegion) {
    // x + y >= 2, x >= 0.5, from the origin: (1, 1).
    const auto x = least_distance(std::vector<double>{1, 1, 1, 0}, 2, std::vector<double>{2, 0.5});
    ASSERT_TRUE(x);
    EXPECT_NEAR((*x)[0], 1, 1e-12);
    EXPECT_NEAR((*x)[1], 1, 1e-12);
    const auto inside =
        least_distance(std::vector<double>{1, 0, 0, 1}, 2, std::vector<double>{-1, -2});
    ASSERT_TRUE(inside);
    EXPECT_NEAR(std::hypot((*inside)[0], (*inside)[1]), 0, 1e-12) << "nothing has to be done";
}

TEST(LeastDistance, SaysWhenNothingSatisfiesAll) {
    EXPECT_FALSE(least_distance(std::vector<double>{1, -1}, 1, std::vector<double>{1, 1}));
}

} // namespace
} // namespace syntonon
