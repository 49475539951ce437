// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/section_phases.h"

#include "core/base/units.h"
#include "tests/support/rate.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

class SectionPhases : public testing::TestWithParam<ParametricShape> {
protected:
    FrequencyGrid grid = *FrequencyGrid::logarithmic(20, 23'000, 60, rate);

    std::vector<double> phase_of(const SectionNumbers& section) const {
        std::vector<double> phase(grid.size(), 0.0);
        add_phases(section, grid, phase);
        return phase;
    }
};

TEST_P(SectionPhases, AreThoseOfTheFilter) {
    for (const double gain_db : {-9.0, 6.0}) {
        const bool has_gain = GetParam() != ParametricShape::all_pass;
        const SectionNumbers section{GetParam(), std::log2(900.0), has_gain ? gain_db : 0, 0.4};
        const auto response = parametric_filter(spec_of(section), rate)->response(grid);
        const std::vector<double> phase = phase_of(section);
        for (std::size_t i = 0; i < grid.size(); ++i) {
            EXPECT_NEAR(std::remainder(phase[i] - response.phase_rad[i], 2 * pi), 0, 1e-9)
                << grid.frequency_hz()[i];
        }
    }
}

TEST_P(SectionPhases, HaveTheSlopesOfTheirDifferences) {
    constexpr double h = 1e-5;
    for (const double hz : {25.0, 1500.0, 19'000.0}) {
        const bool has_gain = GetParam() != ParametricShape::all_pass;
        const SectionNumbers at{GetParam(), std::log2(hz), has_gain ? -7.0 : 0, std::log2(1.7)};
        std::array<std::vector<double>, 3> slopes;
        slopes.fill(std::vector<double>(grid.size()));
        std::vector<double> phase(grid.size(), 0.0);
        add_phases(at, grid, phase, {slopes[0], slopes[1], slopes[2]});
        EXPECT_EQ(phase, phase_of(at));
        for (std::size_t j = 0; j < 3; ++j) {
            const auto member = std::array{&SectionNumbers::log2_hz, &SectionNumbers::gain_db,
                                           &SectionNumbers::log2_q}[j];
            if (j == 1 && !has_gain) {
                continue;
            }
            SectionNumbers up = at, down = at;
            up.*member += h;
            down.*member -= h;
            const auto above = phase_of(up), below = phase_of(down);
            for (std::size_t i = 0; i < grid.size(); ++i) {
                EXPECT_NEAR(slopes[j][i], (above[i] - below[i]) / (2 * h), 1e-6)
                    << j << ' ' << hz << " at " << grid.frequency_hz()[i];
            }
        }
    }
}

INSTANTIATE_TEST_SUITE_P(Shapes, SectionPhases,
                         testing::Values(ParametricShape::peak, ParametricShape::low_shelf,
                                         ParametricShape::high_shelf, ParametricShape::all_pass),
                         [](const auto& shape) { return std::string(key_of(shape.param)); });

} // namespace
} // namespace syntonon
