// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/recursive/root_factors.h"

#include "core/design/roots.h"
#include "tests/core/fit/recursive_targets.h"

#include <algorithm>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

// Pairs and single ones, on both sides of the circle.
Roots mixed_roots() {
    Roots roots;
    for (const Complex pole : {Complex(0.99, 0.02), Complex(0.3, 0.8)}) {
        roots.poles.insert(roots.poles.end(), {pole, std::conj(pole)});
    }
    roots.poles.insert(roots.poles.end(), {0.9, -0.4, 0.5});
    for (const Complex zero : {Complex(0.995, 0.05), Complex(1.2, 0.6)}) {
        roots.zeros.insert(roots.zeros.end(), {zero, std::conj(zero)});
    }
    roots.zeros.insert(roots.zeros.end(), {0.2, 1.7, -3.0});
    roots.gain = -0.37;
    return roots;
}

std::vector<Complex> in_order(std::vector<Complex> roots) {
    std::ranges::sort(roots, {}, [](const Complex& r) {
        return std::pair(std::round(1e9 * r.real()), std::round(1e9 * r.imag()));
    });
    return roots;
}

void expect_same(const std::vector<Complex>& a, const std::vector<Complex>& b) {
    ASSERT_EQ(a.size(), b.size());
    const auto left = in_order(a), right = in_order(b);
    for (std::size_t i = 0; i < left.size(); ++i) {
        EXPECT_LT(std::abs(left[i] - right[i]), 1e-12) << left[i] << " and " << right[i];
    }
}

TEST(RootFactors, GoThereAndBack) {
    const Roots roots = mixed_roots(), back = roots_of(factors_of(roots));
    expect_same(back.poles, roots.poles);
    expect_same(back.zeros, roots.zeros);
    EXPECT_NEAR(back.gain, roots.gain, 1e-12);
}

TEST(RootFactors, HaveTheLevelAndPhaseOfTheirFilter) {
    const Roots roots = mixed_roots();
    const RootFactors factors = factors_of(roots);
    const auto grid = *FrequencyGrid::logarithmic(5, rate / 2, 200, rate);
    const Response response = filter_of_roots(roots).response(grid);
    std::vector<double> level(grid.size(), factors.gain_db), phase(grid.size(), 0.0);
    for (const RootFactor& factor : factors.all) {
        add_level(factor, grid, level, {}, {});
        add_phase(factor, grid, phase, {}, {});
    }
    for (std::size_t i = 0; i < grid.size(); ++i) {
        EXPECT_NEAR(level[i], response.magnitude_db[i], 1e-8);
        const double turned = phase[i] + (factors.is_inverted ? pi : 0) - response.phase_rad[i];
        EXPECT_NEAR(std::remainder(turned, 2 * pi), 0, 1e-8) << grid.frequency_hz()[i];
    }
}

TEST(RootFactors, HaveTheSlopesOfTheirDifferences) {
    const auto grid = *FrequencyGrid::logarithmic(30, 20'000, 60, rate);
    constexpr double step = 1e-6;
    for (const RootFactor& factor : factors_of(mixed_roots()).all) {
        for (const auto add : {add_level, add_phase}) {
            std::vector<double> by_a(grid.size()), by_turn(grid.size());
            add(factor, grid, {}, by_a, by_turn);
            const auto difference = [&](double RootFactor::*number) {
                RootFactor more = factor, less = factor;
                more.*number += step;
                less.*number -= step;
                std::vector<double> above(grid.size()), below(grid.size());
                add(more, grid, above, {}, {});
                add(less, grid, below, {}, {});
                for (std::size_t i = 0; i < above.size(); ++i) {
                    above[i] = (above[i] - below[i]) / (2 * step);
                }
                return above;
            };
            const auto want_a = difference(&RootFactor::log_a);
            const auto want_turn = factor.is_pair ? difference(&RootFactor::turn)
                                                  : std::vector<double>(grid.size(), 0.0);
            for (std::size_t i = 0; i < grid.size(); ++i) {
                EXPECT_NEAR(by_a[i], want_a[i], 1e-5 * (1 + std::abs(want_a[i])));
                EXPECT_NEAR(by_turn[i], want_turn[i], 1e-5 * (1 + std::abs(want_turn[i])));
            }
        }
    }
}

} // namespace
} // namespace syntonon
