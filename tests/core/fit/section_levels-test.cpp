// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/section_levels.h"

#include "tests/support/rate.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

class SectionLevels : public testing::TestWithParam<ParametricShape> {};

TEST_P(SectionLevels, AreThoseOfTheDesignedSection) {
    const FrequencyGrid grid = *FrequencyGrid::logarithmic(0.5, rate / 2, 200, rate);
    for (const double hz : {3.0, 40.0, 1234.0, 21000.0}) {
        for (const double gain_db : {-23.0, -0.4, 7.0}) {
            for (const double q : {0.3, 1.0, 14.0}) {
                const ParametricSpec spec = parametric(GetParam(), hz, gain_db, q);
                const auto designed = parametric_filter(spec, rate)->magnitude_db(grid);
                std::vector<double> level(grid.size(), 0.0);
                add_levels(numbers_of_section(spec), grid, level);
                for (std::size_t i = 0; i < grid.size(); ++i) {
                    EXPECT_NEAR(level[i], designed[i], 1e-6)
                        << hz << ' ' << gain_db << ' ' << q << " at " << grid.frequency_hz()[i];
                }
            }
        }
    }
}

// Central differences, whose own error is about 1e-8 of what they differ.
TEST_P(SectionLevels, HaveTheSlopesOfTheirDifferences) {
    const FrequencyGrid grid = *FrequencyGrid::logarithmic(10, 23900, 97, rate);
    const auto level_of = [&](const SectionNumbers& section) {
        std::vector<double> level(grid.size(), 0.0);
        add_levels(section, grid, level);
        return level;
    };
    constexpr double h = 1e-5;
    for (const double hz : {25.0, 1500.0, 19000.0}) {
        for (const double gain_db : {-11.0, 0.0, 8.0}) {
            const SectionNumbers at{GetParam(), std::log2(hz), gain_db, std::log2(2.3)};
            std::array<std::vector<double>, 3> slopes;
            slopes.fill(std::vector<double>(grid.size()));
            std::vector<double> level(grid.size(), 0.0);
            add_levels(at, grid, level, {slopes[0], slopes[1], slopes[2]});
            EXPECT_EQ(level, level_of(at));
            for (std::size_t j = 0; j < 3; ++j) {
                const auto member = std::array{&SectionNumbers::log2_hz, &SectionNumbers::gain_db,
                                               &SectionNumbers::log2_q}[j];
                SectionNumbers up = at, down = at;
                up.*member += h;
                down.*member -= h;
                const auto above = level_of(up), below = level_of(down);
                for (std::size_t i = 0; i < grid.size(); ++i) {
                    EXPECT_NEAR(slopes[j][i], (above[i] - below[i]) / (2 * h),
                                1e-6 + 1e-7 * std::abs(slopes[j][i]))
                        << j << ' ' << hz << ' ' << gain_db << " at " << grid.frequency_hz()[i];
                }
            }
        }
    }
}

INSTANTIATE_TEST_SUITE_P(Shapes, SectionLevels,
                         testing::Values(ParametricShape::peak, ParametricShape::low_shelf,
                                         ParametricShape::high_shelf),
                         [](const auto& shape) { return std::string(key_of(shape.param)); });

TEST(SectionNumbers, ComeBackAsTheyWere) {
    const ParametricSpec spec = parametric(ParametricShape::high_shelf, 3150, -4.5, 0.9);
    const ParametricSpec back = spec_of(numbers_of_section(spec));
    EXPECT_EQ(back.shape, spec.shape);
    EXPECT_NEAR(back.frequency_hz, 3150, 1e-9);
    EXPECT_EQ(back.gain_db, -4.5);
    EXPECT_NEAR(back.width.value, 0.9, 1e-14);
}

} // namespace
} // namespace syntonon
