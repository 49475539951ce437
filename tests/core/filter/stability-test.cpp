// Loops, stable and not, against their roots and closed forms.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/stability.h"

#include "core/base/units.h"
#include "core/design/parametric.h"
#include "core/filter/form.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <gtest/gtest.h>
#include <random>

namespace syntonon {
namespace {

constexpr double sample_rate = 48000;

Filter delay(std::size_t samples) {
    return Filter(Delay{samples});
}

// y = (1 - p) x + p y[n - 1]: 1 at 0 Hz.
Filter low_pass(double pole) {
    return Filter(Cascade{{Biquad{1 - pole, 0, 0, -pole, 0}}});
}

Filter after(const Filter& first, const Filter& second) {
    return series(std::array{first, second});
}

Stability stability(Filter forward, double factor, Filter feedback) {
    const auto found = stability_of(Loop{std::move(forward), factor, std::move(feedback)});
    EXPECT_TRUE(found) << to_text(found.error());
    return found.value_or(Stability{});
}

TEST(Stability, IsNotAMatterOfTheGainsSize) {
    // 1 - k 0.5 / (1 - 0.5 x): the pole is at 0.5 / (1 - 0.5 k).
    EXPECT_TRUE(stability(low_pass(0.5), -3, Filter()).is_stable());
    EXPECT_FALSE(stability(low_pass(0.5), 1.5, Filter()).is_stable());
    EXPECT_TRUE(stability(low_pass(0.5), 0.9, Filter()).is_stable());
    EXPECT_NEAR(stability(low_pass(0.5), 0.9, Filter()).margin->most_gain, 1 / 0.9, 1e-12);
    // Behind a delay, -3 is too much: 1 + 1.5 x / (1 - 0.5 x) has its zero at 1 + x = 0.
    EXPECT_FALSE(stability(low_pass(0.5), -3.01, delay(1)).is_stable());
    EXPECT_TRUE(stability(low_pass(0.5), -2.99, delay(1)).is_stable());
}

TEST(Stability, OfACombIsCountedWhateverItsLength) {
    for (const std::size_t length : {1u, 7u, 48'000u, 172'800'000u}) {
        for (const double sign : {-1.0, 1.0}) {
            const Stability held = stability(Filter(), sign * 0.99, delay(length));
            EXPECT_TRUE(held.is_stable()) << length;
            ASSERT_TRUE(held.margin);
            EXPECT_NEAR(held.margin->most_gain, 1 / 0.99, 1e-9) << length;
            EXPECT_FALSE(held.margin->phase_rad) << "it is nowhere 1";
            const Stability lost = stability(Filter(), sign * 1.01, delay(length));
            EXPECT_EQ(lost.poles_outside, static_cast<int>(length)) << "each of them";
            EXPECT_NEAR(lost.margin->most_gain, 1 / 1.01, 1e-9) << "what would hold it";
        }
    }
    EXPECT_FALSE(stability(Filter(), 1, delay(100)).is_stable()) << "on the circle";
    EXPECT_TRUE(stability(delay(4), 0, delay(100)).is_stable()) << "nothing comes back";
}

TEST(Stability, KnowsTheFactorsThatAreStable) {
    for (const std::size_t length : {1u, 12u, 48'000u}) {
        const auto comb = stable_factors({Filter(), 0.3, delay(length)});
        ASSERT_TRUE(comb);
        EXPECT_NEAR(comb->low, -1, 1e-9);
        EXPECT_NEAR(comb->high, 1, 1e-9);
    }
    // Of the low-pass above: 1 / F is 1 at 0 Hz, and with turned polarity any factor will do.
    const auto open = stable_factors({low_pass(0.5), -3, Filter()});
    ASSERT_TRUE(open);
    EXPECT_EQ(open->low, -infinity);
    EXPECT_NEAR(open->high, 1, 1e-9);
    const auto late = stable_factors({low_pass(0.5), 7, delay(1)});
    ASSERT_TRUE(late);
    EXPECT_NEAR(late->low, -3, 1e-9);
    const Filter unstable(Cascade{{Biquad{1, 0, 0, -1.1, 0}}});
    EXPECT_FALSE(stable_factors({unstable, 0.1, delay(1)}));
}

TEST(Stability, OfALoopThatHoldsAnUnstableOne) {
    // 1 / (1 - 2 x), held by -1.5 x round it: 1 - 0.5 x. It is held by g times that while
    // |2 - 1.5 g| < 1.
    const Filter wild(Loop{Filter(), 2, delay(1)});
    ASSERT_TRUE(wild.stability());
    EXPECT_EQ(wild.stability()->poles_outside, 1);
    EXPECT_FALSE(wild.is_stable());
    const Stability held = stability(wild, -1.5, delay(1));
    EXPECT_EQ(held.poles_outside, 0);
    const auto own = stability_of(Loop{wild, -1.5, delay(1)});
    EXPECT_NEAR(own->margin->least_gain, 2.0 / 3, 1e-9);
    EXPECT_FALSE(stability(wild, -1.5 * 0.66, delay(1)).is_stable());
    EXPECT_FALSE(stability(wild, -1.5 * 2.01, delay(1)).is_stable());
    EXPECT_TRUE(stability(wild, -1.5 * 1.99, delay(1)).is_stable());
}

class RandomLoops : public testing::TestWithParam<unsigned> {
protected:
    double number(double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(random);
    }
    Filter cascade() {
        std::vector<Filter> sections;
        for (int i = 0; i < 3; ++i) {
            ParametricSpec spec;
            spec.frequency_hz = 60 * std::exp2(number(0, 8));
            spec.gain_db = number(-15, 15);
            spec.width = {WidthKind::q, number(0.4, 8)};
            sections.push_back(parametric_filter(spec, sample_rate).value());
        }
        return series(sections);
    }
    Loop loop() {
        const Filter around = random() % 2 == 0 ? low_pass(number(0.2, 0.98)) : cascade();
        return {cascade(), number(-1.6, 1.6), after(delay(random() % 30), around)};
    }
    std::mt19937 random{GetParam()};
};

int poles_outside(const Loop& loop) {
    const auto roots = Filter(loop).roots();
    EXPECT_TRUE(roots) << to_text(roots.error());
    return static_cast<int>(std::ranges::count_if(
        roots->poles, [](const std::complex<double>& pole) { return std::abs(pole) >= 1; }));
}

TEST_P(RandomLoops, AreAsStableAsTheirRootsSay) {
    const Loop any = loop();
    const auto found = stability_of(any);
    ASSERT_TRUE(found) << to_text(found.error());
    EXPECT_EQ(found->poles_outside, poles_outside(any));
    // Just within the margin the verdict holds, just beyond it does not.
    const double most = found->margin->most_gain;
    if (std::isfinite(most)) {
        Loop less = any, more = any;
        less.factor *= most * (1 - 1e-6);
        more.factor *= most * (1 + 1e-6);
        EXPECT_EQ(poles_outside(less), 0) << most;
        EXPECT_GT(poles_outside(more), 0) << most;
    }
    if (found->is_stable() && found->margin->phase_rad) {
        const CirclePoint at = circle_point(found->margin->phase_turns * sample_rate, sample_rate);
        const std::complex<double> l =
            any.factor * any.forward.prober()->value(at).h * any.feedback.prober()->value(at).h;
        EXPECT_NEAR(std::abs(l), 1, 1e-9);
        EXPECT_NEAR(std::abs(std::arg(l)), *found->margin->phase_rad, 1e-8);
    }
}

INSTANTIATE_TEST_SUITE_P(Seeds, RandomLoops, testing::Range(1u, 61u));

} // namespace
} // namespace syntonon
