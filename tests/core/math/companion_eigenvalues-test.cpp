// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/companion_eigenvalues.h"

#include <algorithm>
#include <gtest/gtest.h>
#include <limits>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

std::vector<double> magnitudes_of(const std::vector<Complex>& zeros) {
    std::vector<double> magnitudes;
    for (const Complex& zero : zeros) {
        magnitudes.push_back(std::abs(zero));
    }
    std::ranges::sort(magnitudes);
    return magnitudes;
}

TEST(CompanionEigenvalues, AreTheZeros) {
    const std::vector<double> c{2, -12, 22, -12}; // 2 (z - 1)(z - 2)(z - 3)
    const auto zeros = companion_eigenvalues(c);
    ASSERT_TRUE(zeros);
    const auto found = magnitudes_of(*zeros);
    ASSERT_EQ(found.size(), 3u);
    for (std::size_t k = 0; k < 3; ++k) {
        EXPECT_NEAR(found[k], double(k + 1), 1e-12);
    }
}

TEST(CompanionEigenvalues, AreGoodForLargeZerosBesideSmallOnesOnceBalanced) {
    // z^4 = -1e-12 and z^4 = -1e12 multiplied out: magnitudes 1e-3 and 1e3, four times each. Not
    // balanced, the large ones come out as 670 and 1490.
    const std::vector<double> c{1, 0, 0, 0, 1e12, 0, 0, 0, 1};
    const auto zeros = companion_eigenvalues(c);
    ASSERT_TRUE(zeros);
    const auto found = magnitudes_of(*zeros);
    ASSERT_EQ(found.size(), 8u);
    for (std::size_t k = 0; k < 8; ++k) {
        EXPECT_NEAR(found[k] / (k < 4 ? 1e-3 : 1e3), 1, 1e-6) << k;
    }
}

TEST(CompanionEigenvalues, AreNotHadWhereTheLeadingCoefficientIsNextToNothing) {
    EXPECT_FALSE(companion_eigenvalues(std::vector{1e-300, 1e300, 1.0}));
    EXPECT_FALSE(companion_eigenvalues(std::vector{1.0, std::numeric_limits<double>::infinity()}));
}

} // namespace
} // namespace syntonon
