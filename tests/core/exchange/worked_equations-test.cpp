// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/worked_equations.h"

#include "core/filter/form.h"
#include "tests/support/network_maker.h"
#include "tests/support/noise.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

using testing::ElementsAre;

TEST(WorkedEquations, SayWhichProductsMadeAValue) {
    const Filter filter(Cascade{{{0.5, 0.25, 0, -0.75, 0}}});
    const std::vector<double> in = {1, 2, 0, 0};
    const auto worked = work_through(equation_system(filter), in).value();
    EXPECT_THAT(worked.values.at("y"), ElementsAre(0.5, 1.625, 1.71875, 1.2890625));
    EXPECT_THAT(products_at(worked, 0, 6), ElementsAre("y[0] = 0.5 · 1 = 0.5"));
    EXPECT_THAT(products_at(worked, 1, 6),
                ElementsAre("y[1] = 0.5 · 2 + 0.25 · 1 + 0.75 · 0.5 = 1.625"));
    EXPECT_TRUE(products_at(worked, 4, 6).empty());
}

TEST(WorkedEquations, WriteSignsOnce) {
    const Filter filter(Cascade{{{1, -1, 0, 0.5, 0}}});
    const auto worked = work_through(equation_system(filter), std::vector<double>{-2, 3}).value();
    EXPECT_THAT(products_at(worked, 0, 6), ElementsAre("y[0] = −2"));
    EXPECT_THAT(products_at(worked, 1, 6), ElementsAre("y[1] = 3 + 2 + 0.5 · 2 = 6"));
}

TEST(WorkedEquations, OfLongRowsTheFirstFew) {
    const Filter filter(Taps(std::vector<double>(20, 1.0)));
    const auto worked = work_through(equation_system(filter), std::vector<double>(20, 1.0)).value();
    EXPECT_EQ(products_at(worked, 19, 6)[0],
              "y[19] = 1 + 1 + 1 + 1 + 1 + 1 + 1 + 1 + 1 + 1 + 1 + 1 + … 8 more = 20");
}

// Every form, in random networks: what is written down does what the filter does.
TEST(WorkedEquations, DoWhatTheFilterDoes) {
    int checked = 0;
    for (unsigned seed = 0; seed < 200; ++seed) {
        NetworkMaker maker(seed);
        const Filter filter = maker.network(3);
        const auto in = noise(60, seed);
        const auto worked = work_through(equation_system(filter), in);
        if (!worked) {
            EXPECT_TRUE(worked.error().reason.find("loop has no delay") != std::string::npos);
            continue;
        }
        auto out = in;
        filter.run(out);
        const auto& y = worked->values.at("y");
        double greatest = 1;
        for (std::size_t n = 0; n < out.size(); ++n) {
            greatest = std::max(greatest, std::abs(out[n]));
            ASSERT_NEAR(y[n], out[n], 1e-10 * greatest) << seed << " " << n;
        }
        ++checked;
    }
    EXPECT_GT(checked, 10);
}

TEST(WorkedEquations, RefuseALoopWithoutDelay) {
    const auto loop = closed_loop({Filter(), 0.5, Filter(Gain{0.5})});
    ASSERT_TRUE(loop);
    if (!std::holds_alternative<Loop>(loop->form())) {
        GTEST_SKIP() << "it was solved into a gain";
    }
    const auto worked = work_through(equation_system(*loop), std::vector<double>{1});
    ASSERT_FALSE(worked);
    EXPECT_EQ(worked.error().place, "u1");
}

} // namespace
} // namespace syntonon
