// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/render.h"

#include "core/base/units.h"
#include "core/engine/by_transform.h"
#include "core/filter/form.h"
#include "tests/support/network_maker.h"
#include "tests/support/noise.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

Filter resonance() {
    return Filter(Cascade{{{0.1, 0, 0, -1.8, 0.95}}});
}

TEST(Render, IsTheFilterRunThrough) {
    const auto in = noise(50'000, 3);
    auto expected = in;
    resonance().run(expected);
    const auto rendered = render(resonance(), in, 0).value();
    EXPECT_TRUE(rendered.tail.empty());
    EXPECT_FALSE(rendered.runs_away_at);
    for (std::size_t n = 0; n < in.size(); ++n) {
        ASSERT_NEAR(rendered.out[n], expected[n], 1e-12);
    }
}

TEST(Render, TheTailGoesOnUntilNothingChanges) {
    const std::vector<double> step(100, 1.0);
    const auto rendered = render(resonance(), step, 1 << 19).value();
    std::vector<double> longer(100 + rendered.tail.size(), 1.0);
    resonance().run(longer);
    for (std::size_t n = 0; n < rendered.tail.size(); ++n) {
        ASSERT_NEAR(rendered.tail[n], longer[100 + n], 1e-12);
    }
    EXPECT_NEAR(rendered.tail.back(), 0.1 / 0.15, 1e-12); // the gain at 0 Hz
    EXPECT_EQ(render(resonance(), step, 50).value().tail.size(), 50U);
}

TEST(Render, ARunawayIsCutWhereItLeavesAllBounds) {
    const Filter unstable(Cascade{{{1, 0, 0, -2, 0}}});
    const auto rendered = render(unstable, std::vector<double>(30'000, 1.0), 1000).value();
    ASSERT_TRUE(rendered.runs_away_at);
    EXPECT_EQ(*rendered.runs_away_at, 39U); // 2^40 - 1 is beyond 1e12
    EXPECT_EQ(rendered.out.size(), 39U);
    EXPECT_TRUE(rendered.tail.empty());
}

TEST(Render, StopsWhenAsked) {
    Watch watch;
    watch.stop();
    EXPECT_FALSE(render(resonance(), noise(100, 1), 0, watch));
}

TEST(Memory, IsTheFinitePartAndTheDecay) {
    EXPECT_EQ(memory_samples(Filter(Taps(std::vector<double>(10, 1.0))), 300, 1000), 10U);
    const double decay = 300 / -db_from_ratio(std::sqrt(0.95));
    EXPECT_NEAR(static_cast<double>(memory_samples(resonance(), 300, 100'000)), decay, 4);
    EXPECT_EQ(memory_samples(Filter(Cascade{{{1, 0, 0, -1, 0}}}), 300, 1000), 1000U);
}

// Direct running and the inverse transform of the response are one answer.
TEST(ByTransform, IsTheFilterRunThrough) {
    int checked = 0;
    for (unsigned seed = 0; seed < 60; ++seed) {
        NetworkMaker maker(seed);
        const Filter filter = maker.network(3);
        const auto in = noise(300, seed);
        const auto out = run_by_transform(filter, Axis(48000), in);
        if (!out) {
            continue;
        }
        auto expected = in;
        filter.run(expected);
        double greatest = 1e-3;
        for (const double sample : expected) {
            greatest = std::max(greatest, std::abs(sample));
        }
        for (std::size_t n = 0; n < in.size(); ++n) {
            ASSERT_NEAR((*out)[n], expected[n], 1e-9 * greatest) << seed;
        }
        ++checked;
    }
    EXPECT_GT(checked, 20);
}

TEST(ByTransform, RefusesWhatNeverEnds) {
    const std::vector<double> in(10, 1.0);
    EXPECT_FALSE(run_by_transform(Filter(Cascade{{{1, 0, 0, -2, 0}}}), Axis(48000), in));
    EXPECT_FALSE(
        run_by_transform(Filter(Cascade{{{1, 0, 0, -1.9999999, 0.9999999}}}), Axis(48000), in));
    EXPECT_FALSE(run_by_transform(resonance(), Axis(48000), {}));
}

} // namespace
} // namespace syntonon
