// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/difference_equation.h"

#include "core/filter/form.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

using testing::ElementsAre;

TEST(DifferenceEquation, OneSectionSubtractsItsFeedback) {
    const Filter filter(Cascade{{{0.5, 0.25, 0, -0.75, 0.125}}});
    EXPECT_THAT(difference_equations(filter),
                ElementsAre("y[n] = 0.5 x[n] + 0.25 x[n−1] + 0.75 y[n−1] − 0.125 y[n−2]"));
}

TEST(DifferenceEquation, SectionsHandOnWhatLiesBetween) {
    const Filter filter(Cascade{{{1, -2, 1, 0, 0}, {-1, 0, 0, 0.5, 0}}});
    EXPECT_THAT(difference_equations(filter),
                ElementsAre("u1[n] = x[n] − 2 x[n−1] + x[n−2]", "y[n] = − u1[n] − 0.5 y[n−1]"));
}

TEST(DifferenceEquation, EveryFormIsWritten) {
    EXPECT_THAT(difference_equations(Filter()), ElementsAre("y[n] = x[n]"));
    EXPECT_THAT(difference_equations(Filter(Gain{-0.5})), ElementsAre("y[n] = − 0.5 x[n]"));
    EXPECT_THAT(difference_equations(Filter(Delay{7})), ElementsAre("y[n] = x[n−7]"));
    EXPECT_THAT(difference_equations(Filter(Taps({0.5, 0, -0.5}))),
                ElementsAre("y[n] = 0.5 x[n] − 0.5 x[n−2]"));
    EXPECT_THAT(difference_equations(Filter(Taps(std::vector<double>{}))), ElementsAre("y[n] = 0"));
    EXPECT_THAT(
        difference_equations(Filter(ParallelSum{{{1, Filter()}, {-0.5, Filter(Delay{3})}}})),
        ElementsAre("u1[n] = x[n]", "u2[n] = x[n−3]", "y[n] = u1[n] − 0.5 u2[n]"));
    EXPECT_THAT(difference_equations(
                    Filter(Series{{Filter(Delay{1}), Filter(Taps({1, 1})), Filter(Gain{2})}})),
                ElementsAre("u1[n] = x[n−1]", "u2[n] = u1[n] + u1[n−1]", "y[n] = 2 u2[n]"));
}

TEST(DifferenceEquation, ALoopNamesWhatComesBack) {
    const auto comb = closed_loop({Filter(), 0.5, Filter(Delay{4})});
    ASSERT_TRUE(comb);
    EXPECT_THAT(difference_equations(*comb),
                ElementsAre("u1[n] = y[n−4]", "u2[n] = x[n] + 0.5 u1[n]", "y[n] = u2[n]"));
}

TEST(DifferenceEquation, LongRowsOfTapsAreCut) {
    const auto lines = difference_equations(Filter(Taps(std::vector<double>(4096, 1.0))));
    ASSERT_EQ(lines.size(), 1u);
    EXPECT_TRUE(lines[0].ends_with("+ x[n−15] + … to x[n−4095], 4096 taps")) << lines[0];
}

} // namespace
} // namespace syntonon
