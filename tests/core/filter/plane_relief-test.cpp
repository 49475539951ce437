// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/plane_relief.h"

#include "core/base/units.h"

#include <gtest/gtest.h>
#include <random>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

Roots some_roots(std::size_t pairs) {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> unit(0, 1);
    Roots roots;
    roots.gain = -0.3;
    roots.delay_samples = 2;
    for (std::size_t i = 0; i < pairs; ++i) {
        for (auto* list : {&roots.zeros, &roots.poles}) {
            list->push_back(std::polar(std::sqrt(unit(random)), pi * unit(random)));
            list->push_back(std::conj(list->back()));
        }
    }
    roots.poles.emplace_back(0.9, 0);
    return roots;
}

void expect_values(const Roots& roots, const PlaneGrid& grid) {
    const auto level = level_db_over(roots, grid), phase = phase_rad_over(roots, grid);
    ASSERT_EQ(level.size(), grid.columns * grid.rows);
    for (std::size_t k = 0; k < grid.rows; ++k) {
        for (std::size_t i = 0; i < grid.columns; ++i) {
            const Complex z(grid.left + grid.step * double(i), grid.top - grid.step * double(k));
            const Complex h = value_of(roots, z).h;
            EXPECT_NEAR(level[k * grid.columns + i], db_from_ratio(std::abs(h)), 0.01) << z;
            EXPECT_NEAR(std::remainder(phase[k * grid.columns + i] - std::arg(h), 2 * pi), 0, 1e-3)
                << z;
        }
    }
}

TEST(PlaneRelief, IsHAtEveryPoint) {
    expect_values(some_roots(4), {-1.213, 1.1, 0.1, 24, 23});   // rows mirror one another
    expect_values(some_roots(4), {-1.213, 1.137, 0.1, 24, 23}); // or do not
    expect_values(some_roots(60), {-1.213, 0.937, 0.21, 9, 9});
}

TEST(PlaneRelief, OnTheImaginaryAxisIsTheAnalogResponse) {
    Roots roots{{{0, 0}}, {{-100, 2000}, {-100, -2000}}, 50, 0};
    roots.domain = Domain::analog;
    expect_values(roots, {-3010, 3000, 300, 21, 21});
}

TEST(PlaneRelief, IsFiniteOnItsRoots) {
    const Roots roots{{{0.5, 0}}, {{-0.5, 0}}, 1, 0};
    const auto level = level_db_over(roots, {-0.5, 0, 0.5, 3, 1});
    EXPECT_GT(level[0], 80);
    EXPECT_LE(level[0], 600);
    EXPECT_LT(level[2], -80);
}

} // namespace
} // namespace syntonon
