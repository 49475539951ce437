// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/goal_amplitude.h"

#include "core/base/units.h"

#include <algorithm>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

Brief brief_of(Wished wished) {
    Brief brief = brief_at(Axis(48000));
    brief.wished = std::make_shared<const Wished>(std::move(wished));
    return brief;
}

AmplitudePiece first(Wished wished, Least least = Least::greatest_error) {
    return amplitude_of_goal(brief_of(std::move(wished)), least)->front();
}

TEST(GoalAmplitude, AClosedCorridorIsMetExactlyWhereTheWeightedErrorIsOne) {
    const AmplitudePiece piece = first({{{0, 1000}, {0, 0}, {-2, -2}, {1, 1}, {}}});
    EXPECT_NEAR(piece.gain.at_from + 1 / piece.weight, ratio_from_db(1), 1e-12);
    EXPECT_NEAR(piece.gain.at_from - 1 / piece.weight, ratio_from_db(-2), 1e-12);
}

TEST(GoalAmplitude, WhereTheMiddleWouldJumpTheTargetIsAimedAt) {
    const auto wanted = amplitude_of_goal(
        brief_of({{{0, 40}, {0, 0}, {}, {}, {}}, {{40, 1000}, {0, 0}, {-2, -2}, {2, 2}, {}}}),
        Least::greatest_error);
    ASSERT_TRUE(wanted);
    EXPECT_EQ((*wanted)[0].gain.at_to, 1);
    EXPECT_EQ((*wanted)[1].gain.at_from, 1);
    EXPECT_NEAR(1 / (*wanted)[1].weight, 1 - ratio_from_db(-2), 1e-12) << "the nearer edge";
}

TEST(GoalAmplitude, SquaredErrorsAreCountedFromTheTarget) {
    const AmplitudePiece piece =
        first({{{0, 1000}, {0, 0}, {-2, -2}, {1, 1}, {3, 3}}}, Least::squared_error);
    EXPECT_EQ(piece.gain.at_from, 1);
    const double room = (ratio_from_db(1) - ratio_from_db(-2)) / 2;
    EXPECT_NEAR(piece.weight, 3 / (room * room), 1e-9);
}

TEST(GoalAmplitude, AStopbandIsSilenceWithRoomUpToItsEdge) {
    const auto wanted = amplitude_of_goal(brief_of({{{0, 1000}, {6, 6}, {}, {}, {}},
                                                    {{2000, 3000}, {-80, -80}, {}, {-50, -50}, {}},
                                                    {{4000, 5000}, {6, 6}, {}, {9, 9}, {}}}),
                                          Least::greatest_error);
    ASSERT_TRUE(wanted);
    ASSERT_EQ(wanted->size(), 3u);
    EXPECT_NEAR((*wanted)[0].weight, 1 / ratio_from_db(6), 1e-12) << "no corridor: the gain itself";
    EXPECT_EQ((*wanted)[1].gain.at_from, 0);
    EXPECT_NEAR(1 / (*wanted)[1].weight, ratio_from_db(-50), 1e-12);
    EXPECT_NEAR((*wanted)[2].gain.at_from, ratio_from_db(6), 1e-12) << "no stopband";
    EXPECT_NEAR(1 / (*wanted)[2].weight, ratio_from_db(9) - ratio_from_db(6), 1e-12);
}

TEST(GoalAmplitude, WithoutATargetTheEdgesAreHeld) {
    const AmplitudePiece piece = first({{{0, 1000}, {}, {-3, -3}, {}, {}}});
    EXPECT_NEAR(piece.gain.at_from, ratio_from_db(-2), 1e-12);
    EXPECT_NEAR(piece.gain.at_from - 1 / piece.weight, ratio_from_db(-3), 1e-12);
}

TEST(GoalAmplitude, SlopesAreCutFineInLevelAndInWeight) {
    const auto wanted = amplitude_of_goal(
        brief_of({{{1000, 2000}, {0, -12}, {}, {}, {}}, {{4000, 8000}, {0, 0}, {}, {}, {1, 100}}}),
        Least::greatest_error);
    for (const AmplitudePiece& piece : *wanted) {
        EXPECT_LE(std::abs(db_from_ratio(piece.gain.at_from / piece.gain.at_to)), 0.5 + 1e-9);
    }
    const auto level = std::ranges::count_if(
        *wanted, [](const AmplitudePiece& piece) { return piece.gain.at_from == 1; });
    EXPECT_GT(level, 70) << "a factor of 100 in steps of 6 %";
    EXPECT_NEAR(wanted->back().weight, 100, 1e-9);
}

TEST(GoalAmplitude, TheCorridorAloneLeavesTargetsWithoutOneAndWeightsOut) {
    const auto brief = brief_of(
        {{{0, 1000}, {0, 0}, {}, {}, {}}, {{2000, 3000}, {0, 0}, {-1, -1}, {1, 1}, {9, 9}}});
    const auto wanted = amplitude_of_corridor(brief);
    ASSERT_TRUE(wanted);
    ASSERT_EQ(wanted->size(), 1u);
    EXPECT_NEAR(1 / wanted->front().weight, (ratio_from_db(1) - ratio_from_db(-1)) / 2, 1e-12);
    EXPECT_EQ(amplitude_of_corridor(brief_of({{{0, 1000}, {0, 0}, {}, {}, {}}})).error().place,
              "use_goal");
}

} // namespace
} // namespace syntonon
