// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/moved_filters.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

TEST(MovedFilters, WithoutDepthAreTheSame) {
    for (const FilterModel& model : {FilterModel(LadderModel{{}, {700, 0.8, 0}}),
                                     FilterModel(StateVariableModel{{}, {700, 0.8, 0, 0}})}) {
        const auto runs =
            moved_beside_direct(model, 300, 0, ModulationWave::sine, 440, 4000, 48000);
        for (std::size_t n = 0; n < runs.input.size(); ++n) {
            ASSERT_NEAR(runs.modelled.samples[n], runs.direct.samples[n], 1e-9) << n;
        }
        EXPECT_EQ(runs.modelled.samples, runs.still.samples);
    }
}

TEST(MovedFilters, TheDirectFormGrowsWhereTheModelDoesNot) {
    StateVariableModel model;
    model.knobs = {800, 0.95, 0, 0};
    const auto runs = moved_beside_direct(model, 400, 2, ModulationWave::square, 440, 24000, 48000);
    EXPECT_LT(runs.modelled.peak, 20);
    EXPECT_GT(runs.direct.peak, 4 * runs.modelled.peak);
    EXPECT_GT(runs.direct.jump, 4 * runs.modelled.jump);
    EXPECT_GT(runs.direct.energy, 10 * runs.modelled.energy);
}

// A. Wishnick, 2014: the two states' sum of squares never grows but by what comes in.
TEST(MovedFilters, WhatIsLeftOfTheModelDiesAwayHoweverItIsMoved) {
    StateVariableModel model;
    model.knobs = {2000, 0.9, 0, 0};
    const auto runs =
        moved_beside_direct(model, 3777, 3, ModulationWave::square, 1000, 48000, 48000);
    EXPECT_LT(runs.modelled.peak, 20);
}

} // namespace
} // namespace syntonon
