// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/least_greatest.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <numbers>
#include <random>
#include <vector>

namespace syntonon {
namespace {

double greatest_of(const Equations& equations, const std::vector<double>& unknowns) {
    double greatest = 0;
    for (std::size_t i = 0; i < equations.values.size(); ++i) {
        double error = -equations.values[i];
        for (std::size_t j = 0; j < unknowns.size(); ++j) {
            error += equations.rows[i * unknowns.size() + j] * unknowns[j];
        }
        greatest = std::max(greatest, std::abs(error));
    }
    return greatest;
}

// x^degree by the lower powers, at places close to the interval's ends.
Equations monomial(std::size_t degree, int places) {
    Equations equations{degree};
    for (int i = 0; i <= places; ++i) {
        const double x = std::cos(std::numbers::pi * i / places);
        std::vector<double> powers(degree);
        for (std::size_t j = 0; j < degree; ++j) {
            powers[j] = std::pow(x, static_cast<double>(j));
        }
        equations.add(powers, std::pow(x, static_cast<double>(degree)));
    }
    return equations;
}

TEST(LeastGreatest, APowerByLowerOnesIsChebyshevsPolynomial) {
    for (const std::size_t degree : {1u, 2u, 5u, 9u}) {
        // With a multiple of the degree as places, the extrema are among them.
        const auto found = least_greatest_error(monomial(degree, static_cast<int>(degree) * 40));
        EXPECT_NEAR(found.greatest, std::exp2(1.0 - static_cast<double>(degree)), 1e-13);
        EXPECT_NEAR(found.bound, found.greatest, 1e-12);
    }
    // T5 / 16 = x^5 - 5/4 x^3 + 5/16 x
    const auto fifth = least_greatest_error(monomial(5, 200)).unknowns;
    const std::vector<double> known{0, -5.0 / 16, 0, 5.0 / 4, 0};
    for (std::size_t j = 0; j < known.size(); ++j) {
        EXPECT_NEAR(fifth[j], known[j], 1e-12) << j;
    }
}

TEST(LeastGreatest, NoOthersNearbyAreBetter) {
    std::mt19937 random(7);
    std::normal_distribution<double> normal;
    for (int trial = 0; trial < 30; ++trial) {
        const std::size_t unknowns = 1 + static_cast<std::size_t>(trial) % 7;
        Equations equations{unknowns};
        for (int i = 0; i < 120; ++i) {
            std::vector<double> row(unknowns);
            std::ranges::generate(row, [&] { return normal(random); });
            row[0] *= 1e-6; // columns of unlike size
            equations.add(row, normal(random));
        }
        const auto found = least_greatest_error(equations);
        EXPECT_NEAR(found.greatest, found.bound, 1e-9 * found.bound);
        EXPECT_NEAR(found.greatest, greatest_of(equations, found.unknowns), 1e-12);
        for (int nudge = 0; nudge < 40; ++nudge) {
            auto others = found.unknowns;
            for (std::size_t j = 0; j < unknowns; ++j) {
                others[j] += (j == 0 ? 1e3 : 1e-3) * normal(random);
            }
            EXPECT_GE(greatest_of(equations, others), found.greatest);
        }
    }
}

TEST(LeastGreatest, WhatCanBeMetIsMetAndWhatIsNotThereIsNone) {
    Equations square{2};
    square.add(std::vector{2.0, 1.0}, 5);
    square.add(std::vector{1.0, -1.0}, 1);
    const auto met = least_greatest_error(square);
    EXPECT_NEAR(met.greatest, 0, 1e-14);
    EXPECT_NEAR(met.unknowns[0], 2, 1e-14);
    EXPECT_NEAR(met.unknowns[1], 1, 1e-14);

    // The second unknown is twice the first, the third does nothing.
    Equations alike{3};
    for (const double value : {1.0, 2.0, 6.0}) {
        alike.add(std::vector{1.0, 2.0, 0.0}, value);
    }
    const auto middle = least_greatest_error(alike);
    EXPECT_NEAR(middle.unknowns[0] + 2 * middle.unknowns[1], 3.5, 1e-12);
    EXPECT_EQ(middle.unknowns[2], 0);
    EXPECT_NEAR(middle.greatest, 2.5, 1e-12);

    EXPECT_EQ(least_greatest_error(Equations{2}).unknowns, (std::vector{0.0, 0.0}));
    Equations none{0};
    none.add({}, -3);
    EXPECT_EQ(least_greatest_error(none).greatest, 3);
}

} // namespace
} // namespace syntonon
