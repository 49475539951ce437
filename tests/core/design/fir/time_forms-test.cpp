// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/time_forms.h"

#include "core/base/units.h"
#include "tests/support/rate.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

const ToneBurst no_burst{};

// The ideal low-pass, one lobe so many samples long, cut off.
std::vector<double> low_pass(int half, int lobe = 3) {
    std::vector<double> taps;
    for (int n = -half; n <= half; ++n) {
        taps.push_back(n == 0 ? 1.0 / lobe : std::sin(pi * n / lobe) / (pi * n));
    }
    return taps;
}

TEST(TimeForms, OfAnImpulseWhatRingsBeforeTheMainLobeIsTold) {
    // Two samples of -20 and -26 dB before a lobe of three, which then rings on.
    const std::vector<double> taps{0, 1e-4, -0.1, -0.05, 0.5, 1, 0.5, -0.2};
    const auto form = time_form(taps, TimeSignal::impulse, no_burst, rate);
    EXPECT_EQ(form.onset, 4);
    EXPECT_EQ(form.before.from, 2) << "1e-4 is not heard";
    EXPECT_EQ(form.before.to, 4);
    EXPECT_NEAR(form.before.greatest_db, -20, 1e-12);
    EXPECT_NEAR(form.before.energy_db,
                db_from_power((0.01 + 0.0025) / (0.01 + 0.0025 + 0.5 + 1 + 0.04 + 1e-8)), 1e-12);
    const auto none = time_form({1, 0.5, 0.25}, TimeSignal::impulse, no_burst, rate);
    EXPECT_TRUE(none.before.is_empty());
    EXPECT_EQ(none.before.energy_db, -infinity);
}

TEST(TimeForms, OfAStepTheFinalValueIsTheMeasure) {
    const std::vector<double> taps{0.1, -0.3, 1, 1.2}; // sums 0.1, -0.2, 0.8, 2
    const auto form = time_form(taps, TimeSignal::step, no_burst, rate);
    EXPECT_EQ(form.answer.size(), 8u);
    EXPECT_NEAR(form.answer.back(), 2, 1e-15);
    EXPECT_EQ(form.onset, 2);
    EXPECT_EQ(form.before.from, 0);
    EXPECT_NEAR(form.before.greatest_db, -20, 1e-12);
    EXPECT_NEAR(form.before.energy_db, db_from_power((0.01 + 0.04) / (2 * 4)), 1e-12);
}

// Gibbs: the step of an ideal low-pass undershoots by 8.95 percent just before it rises.
TEST(TimeForms, TheStepOfAnIdealLowPassUndershootsByNinePercent) {
    const auto form = time_form(low_pass(4000, 50), TimeSignal::step, no_burst, rate);
    EXPECT_NEAR(ratio_from_db(form.before.greatest_db), 0.0895, 0.002);
    EXPECT_NEAR(form.before.to, 3951, 1) << "one lobe before the middle";
}

TEST(TimeForms, ABurstBeginsLaterByTheDelayAtItsFrequency) {
    const ToneBurst burst{2000, 4};
    EXPECT_EQ(burst.samples(rate).size(), 96u);
    const auto form = time_form(low_pass(60), TimeSignal::burst, burst, rate);
    EXPECT_NEAR(form.onset, 60, 1e-9);
    EXPECT_EQ(form.answer.size(), 121u + 95u);
    EXPECT_LT(form.before.from, 40) << "the taps ring before";
    EXPECT_LT(form.before.greatest_db, -10);
    EXPECT_GT(form.before.greatest_db, -40);
    const auto delayed = time_form({0, 0, 0, 1}, TimeSignal::burst, burst, rate);
    EXPECT_TRUE(delayed.before.is_empty()) << "a delay does not ring";
    EXPECT_NEAR(delayed.onset, 3, 1e-9);
}

TEST(TimeForms, MinimumPhaseRingsLeastBeforeAndLinearMost) {
    const auto taps = low_pass(60);
    const auto all =
        time_forms(taps, std::array{0.0, 0.25, 0.5}, TimeSignal::impulse, no_burst, rate, Watch());
    ASSERT_TRUE(all);
    EXPECT_LT((*all)[0].onset, (*all)[1].onset);
    EXPECT_LT((*all)[1].onset, (*all)[2].onset);
    EXPECT_LT((*all)[0].before.energy_db, (*all)[2].before.energy_db);
    for (std::size_t n = 0; n < taps.size(); ++n) {
        EXPECT_NEAR((*all)[2].answer[n], taps[n], 1e-12);
    }
    const auto refused =
        time_forms(taps, std::array{0.5}, TimeSignal::burst, {30000, 4}, rate, Watch());
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().place, "frequency_hz");
    const auto endless = time_forms(taps, {}, TimeSignal::burst, {1e-3, 8}, rate, Watch());
    ASSERT_FALSE(endless) << "of the taps as they are, too";
    const auto as_it_is = time_forms(taps, {}, TimeSignal::step, no_burst, rate, Watch());
    ASSERT_TRUE(as_it_is);
    EXPECT_EQ(as_it_is->size(), 1u);
}

} // namespace
} // namespace syntonon
