// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/wished.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

constexpr Axis axis(48000);

Wished wished(const Goal& goal) {
    return wished_of(resolved(goal, axis.sample_rate_hz), axis);
}

Goal drawn() {
    Goal goal;
    goal.target.points = {{100, 0, {}}, {1000, -6, Between::gap}, {2000, -20, {}}};
    return goal;
}

TEST(Wished, TheTargetAloneHasGapsNoCorridorAndNoWeights) {
    const Wished parts = wished(drawn());
    ASSERT_EQ(parts.size(), 2u);
    EXPECT_EQ(parts[0].frequency_hz.front(), 0);
    EXPECT_EQ(parts[0].frequency_hz.back(), 1000);
    EXPECT_EQ(parts[0].level_db.back(), -6);
    EXPECT_EQ(parts[1].frequency_hz.front(), 2000);
    EXPECT_EQ(parts[1].frequency_hz.back(), 24000);
    EXPECT_TRUE(parts[0].lower_db.empty() && parts[0].upper_db.empty());
    EXPECT_TRUE(parts[0].weight.empty());
}

TEST(Wished, ACorridorCutsWhereItBeginsAndEnds) {
    Goal goal = drawn();
    goal.corridor = {{50, 400, 1, 2, false, {}}, {200, 3000, 0.5, {}, false, {}}};
    const Wished parts = wished(goal);
    ASSERT_EQ(parts.size(), 6u); // 0, 50, 200, 400, 1000 | 2000, 3000
    EXPECT_TRUE(parts[0].lower_db.empty());
    EXPECT_EQ(parts[1].lower_db.front(), -2);
    EXPECT_EQ(parts[1].upper_db.front(), 1);
    EXPECT_NEAR(parts[2].upper_db.front(), parts[2].level_db.front() + 0.5, 1e-12) << "the tighter";
    EXPECT_FALSE(parts[2].lower_db.empty());
    EXPECT_TRUE(parts[3].lower_db.empty());
    EXPECT_EQ(parts[4].frequency_hz.front(), 2000) << "held against a target that has a gap";
    EXPECT_EQ(parts[4].frequency_hz.back(), 3000);
    EXPECT_EQ(parts[4].upper_db.front(), -19.5);
}

TEST(Wished, AnAbsoluteCorridorNeedsNoTarget) {
    Goal goal;
    goal.corridor = {{8000, 30000, -60, {}, true, {}}};
    const Wished parts = wished(goal);
    ASSERT_EQ(parts.size(), 1u);
    EXPECT_TRUE(parts[0].level_db.empty());
    EXPECT_EQ(parts[0].frequency_hz.front(), 8000);
    EXPECT_EQ(parts[0].frequency_hz.back(), 24000) << "not beyond half the rate";
    EXPECT_EQ(parts[0].upper_db.back(), -60);
}

TEST(Wished, ATransitionIsFreeWhereTheStopbandExcludesTheTarget) {
    Goal goal;
    goal.target.points = {{20, 0, {}}, {20000, 0, {}}};
    CorridorRange stop{8000, 20000, -40, {}, true};
    goal.corridor = {{0, 5000, 0.2, 0.2}, stop};
    const Wished parts = wished(goal);
    ASSERT_EQ(parts.size(), 2u); // neither 5 to 8 kHz nor 20 to 24 kHz
    EXPECT_EQ(parts[0].frequency_hz.back(), 5000);
    EXPECT_EQ(parts[1].frequency_hz.front(), 8000);
    EXPECT_EQ(parts[1].frequency_hz.back(), 20000);

    stop.above_db = 1; // it holds the target
    goal.corridor.back() = stop;
    EXPECT_EQ(wished(goal).size(), 4u);
}

TEST(Wished, ATargetThatNoRangeHoldsStays) {
    Goal goal;
    goal.target.points = {{20, 0, {}}, {20000, 0, {}}};
    goal.corridor = {{8000, 24000, -40, {}, true}};
    const Wished parts = wished(goal);
    ASSERT_EQ(parts.size(), 2u);
    EXPECT_EQ(parts[0].frequency_hz.front(), 0);
}

TEST(Wished, ASlopingEdgeIsTakenWhereItIs) {
    Goal goal;
    CorridorRange ceiling{6000, 24000, -40, {}, true};
    ceiling.above_to_db = -64; // 12 dB an octave
    goal.corridor = {ceiling};
    const Wished parts = wished(goal);
    ASSERT_EQ(parts.size(), 1u);
    for (std::size_t i = 0; i < parts[0].frequency_hz.size(); ++i) {
        EXPECT_NEAR(parts[0].upper_db[i], -40 - 12 * std::log2(parts[0].frequency_hz[i] / 6000),
                    1e-9);
    }
}

TEST(Wished, WeightsMultiplyWithinTheirRanges) {
    Goal goal = drawn();
    goal.weights.ranges = {{100, 500, 4, {}}, {200, 500, 3, {}}};
    goal.weights.points = {{300, 2, {}}};
    const Wished parts = wished(goal);
    ASSERT_EQ(parts.size(), 5u); // 0, 100, 200, 500, 1000 | 2000
    EXPECT_EQ(parts[0].weight.front(), 2);
    EXPECT_EQ(parts[1].weight.back(), 8) << "up to the range's end";
    EXPECT_EQ(parts[2].weight.front(), 24);
    EXPECT_EQ(parts[3].weight.front(), 2);
}

TEST(Wished, NothingStatedIsNothingWished) {
    EXPECT_TRUE(wished(Goal()).empty());
}

} // namespace
} // namespace syntonon
