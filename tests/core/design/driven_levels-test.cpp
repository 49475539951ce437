// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/driven_levels.h"

#include "core/filter/modelled/ladder.h"

#include <array>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

TEST(DrivenLevels, SoftOnesAreTheResponseAndLoudOnesLoseTheirPeak) {
    LadderModel model{{}, {1000, 0.9, 0}};
    const std::array hz = {100.0, 1000.0, 4000.0};
    const auto soft = driven_level_db(model, 1e-5, hz);
    const Axis analog(48000, Domain::analog);
    const Probe probe(modelled_filter(model.build, model.knobs, analog), analog);
    for (std::size_t i = 0; i < hz.size(); ++i) {
        EXPECT_NEAR(soft[i], probe.level_db(hz[i]), 0.01);
    }
    const auto loud = driven_level_db(model, 1, hz);
    EXPECT_LT(loud[1], soft[1] - 6) << "the peak is held by the stages";
    model.knobs.drive_db = 20;
    EXPECT_LT(driven_level_db(model, 0.1, hz)[1], soft[1] - 6) << "drive is strength";
}

TEST(DrivenLevels, OfLinearOnesStay) {
    LadderModel ladder{{}, {1000, 0.9, 30}};
    ladder.build.saturating = false;
    const std::array hz = {700.0};
    EXPECT_NEAR(driven_level_db(ladder, 1e-5, hz)[0], driven_level_db(ladder, 10, hz)[0], 1e-12);
    StateVariableModel state_variable{{}, {1000, 0.5, 0, 0}};
    EXPECT_NEAR(driven_level_db(state_variable, 10, std::array{1000.0})[0], 0, 1e-9) << "Q = 1";
    state_variable.build.saturating = true;
    EXPECT_NEAR(driven_level_db(state_variable, 10, std::array{1000.0})[0],
                20 * std::log10(modelled::describing_gain(10)), 1e-9);
}

TEST(PolesByResonance, WalkToTheAxisAndBeyond) {
    const auto found = poles_by_resonance(LadderModel(), 7);
    ASSERT_EQ(found.size(), 7u);
    EXPECT_EQ(found[0].resonance, 0);
    for (const auto& pole : found[0].poles) {
        EXPECT_NEAR(std::abs(pole + 1.0), 0, 1e-12);
    }
    EXPECT_NEAR(found[5].resonance, 1, 1e-12);
    EXPECT_NEAR(found[5].poles[0].real(), 0, 1e-12);
    EXPECT_GT(found[6].poles[0].real(), 0);
}

} // namespace
} // namespace syntonon
