// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/symmetric_toeplitz.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>
#include <random>
#include <vector>

namespace syntonon {
namespace {

bool never() {
    return false;
}

// By Cholesky's method on the whole matrix.
std::vector<double> solved_densely(const std::vector<double>& column, std::vector<double> b) {
    const std::size_t n = column.size();
    std::vector<std::vector<double>> lower(n, std::vector<double>(n, 0.0));
    for (std::size_t i = 0; i < n; ++i) {
        for (std::size_t k = 0; k <= i; ++k) {
            double rest = column[i - k];
            for (std::size_t m = 0; m < k; ++m) {
                rest -= lower[i][m] * lower[k][m];
            }
            lower[i][k] = i == k ? std::sqrt(rest) : rest / lower[k][k];
        }
    }
    for (std::size_t i = 0; i < n; ++i) {
        for (std::size_t k = 0; k < i; ++k) {
            b[i] -= lower[i][k] * b[k];
        }
        b[i] /= lower[i][i];
    }
    for (std::size_t i = n; i-- > 0;) {
        for (std::size_t k = i + 1; k < n; ++k) {
            b[i] -= lower[k][i] * b[k];
        }
        b[i] /= lower[i][i];
    }
    return b;
}

// 1 at the bands of a spectrum, 0 in the gap between 1 and 1 + gap rad: the wider the gap the worse
// the condition.
std::vector<double> with_gap(std::size_t n, double gap) {
    std::vector<double> column{std::numbers::pi - gap};
    for (std::size_t k = 1; k < n; ++k) {
        const auto t = double(k);
        column.push_back((std::sin(t) - std::sin(t * (1 + gap))) / t);
    }
    return column;
}

TEST(SymmetricToeplitz, SolvesLikeADenseOne) {
    std::mt19937 random(3);
    std::normal_distribution<double> normal;
    for (const std::size_t n : {1u, 2u, 3u, 17u, 64u, 200u}) {
        const auto column = with_gap(n, 0.02);
        auto matrix = SymmetricToeplitz::of(column, never);
        ASSERT_TRUE(matrix) << n;
        std::vector<double> b(n);
        for (double& value : b) {
            value = normal(random);
        }
        const auto wanted = solved_densely(column, b);
        const auto x = matrix->solve(b), again = matrix->times(x);
        double size = 0;
        for (const double value : wanted) {
            size = std::max(size, std::abs(value));
        }
        for (std::size_t i = 0; i < n; ++i) {
            EXPECT_NEAR(x[i], wanted[i], 1e-10 * size) << n;
            EXPECT_NEAR(again[i], b[i], 1e-11);
        }
    }
}

// Where the condition is beyond the digits: what is left over stays small, and so does x.
TEST(SymmetricToeplitz, LivesWithABadCondition) {
    for (const double gap : {0.2, 0.6, 1.5}) {
        const auto column = with_gap(400, gap);
        auto matrix = SymmetricToeplitz::of(column, never);
        ASSERT_TRUE(matrix) << gap;
        std::vector<double> known(400);
        for (std::size_t i = 0; i < 400; ++i) {
            known[i] = std::sin(0.3 * double(i)) / (1 + std::abs(double(i) - 199.5));
        }
        const auto b = matrix->times(known);
        const auto x = matrix->solve(b);
        const auto again = matrix->times(x);
        double left = 0, largest = 0;
        for (std::size_t i = 0; i < 400; ++i) {
            left = std::max(left, std::abs(again[i] - b[i]));
            largest = std::max(largest, std::abs(x[i]));
        }
        EXPECT_LT(left, 1e-11) << gap;
        EXPECT_LT(largest, 2) << gap;
        EXPECT_GT(matrix->condition(), 1e9);
    }
}

// With 2 on the diagonal and -1 beside it the eigenvalues are 2 - 2 cos(k pi / (n + 1)).
TEST(SymmetricToeplitz, KnowsItsCondition) {
    std::vector<double> column(30, 0.0);
    column[0] = 2;
    column[1] = -1;
    const double angle = std::numbers::pi / 31;
    auto matrix = SymmetricToeplitz::of(column, never);
    EXPECT_NEAR(matrix->condition() * (1 - std::cos(angle)) / (1 + std::cos(angle)), 1, 0.1);
}

TEST(SymmetricToeplitz, IsRefusedAndStopped) {
    EXPECT_FALSE(SymmetricToeplitz::of({1, 2, 0.5}, never)) << "not positive";
    EXPECT_FALSE(SymmetricToeplitz::of(with_gap(200, 0.1), [] { return true; }));
}

} // namespace
} // namespace syntonon
