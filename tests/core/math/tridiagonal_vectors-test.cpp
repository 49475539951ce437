// Eigenvectors of tridiagonal matrices.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/tridiagonal_vectors.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numeric>

namespace syntonon {
namespace {

double product(const std::vector<double>& a, const std::vector<double>& b) {
    return std::inner_product(a.begin(), a.end(), b.begin(), 0.0);
}

// -1, 2, -1: the eigenvalues are 2 - 2 cos(k pi / (n + 1)), the vectors sines.
TEST(TridiagonalVectors, AreTheSinesOfTheSecondDifference) {
    constexpr int n = 200;
    const double pi = std::acos(-1);
    const std::vector<double> diagonal(n, 2.0), below(n - 1, -1.0);
    std::vector<double> values;
    for (const int k : {200, 199, 100, 3, 2, 1}) {
        values.push_back(2 - 2 * std::cos(k * pi / (n + 1)));
    }
    const auto vectors = tridiagonal_vectors(diagonal, below, values);
    ASSERT_EQ(vectors.size(), values.size());
    std::size_t at = 0;
    for (const int k : {200, 199, 100, 3, 2, 1}) {
        std::vector<double> sines;
        for (int i = 1; i <= n; ++i) {
            sines.push_back(std::sqrt(2.0 / (n + 1)) * std::sin(i * k * pi / (n + 1)));
        }
        EXPECT_NEAR(std::abs(product(vectors[at++], sines)), 1, 1e-10) << k;
    }
}

// Two blocks that are the same have every eigenvalue twice.
TEST(TridiagonalVectors, OfEqualEigenvaluesAreOrthogonal) {
    const std::vector<double> diagonal{1, 1, 1, 1}, below{0.5, 0, 0.5};
    const std::vector<double> values{1.5, 1.5, 0.5, 0.5};
    const auto vectors = tridiagonal_vectors(diagonal, below, values);
    for (std::size_t i = 0; i < vectors.size(); ++i) {
        for (std::size_t k = 0; k < vectors.size(); ++k) {
            EXPECT_NEAR(product(vectors[i], vectors[k]), i == k ? 1 : 0, 1e-12);
        }
        for (std::size_t row = 0; row < 4; ++row) {
            const double above = row > 0 ? below[row - 1] * vectors[i][row - 1] : 0;
            const double under = row < 3 ? below[row] * vectors[i][row + 1] : 0;
            EXPECT_NEAR(above + diagonal[row] * vectors[i][row] + under,
                        values[i] * vectors[i][row], 1e-12);
        }
    }
}

} // namespace
} // namespace syntonon
