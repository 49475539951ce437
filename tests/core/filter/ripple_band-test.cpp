// Bands of combs against their closed forms, and of networks against many samples.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/ripple_band.h"

#include "core/base/units.h"
#include "core/filter/form.h"
#include "tests/support/rate.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <gtest/gtest.h>
#include <random>

namespace syntonon {
namespace {

EvenSpacing columns_of_the_lanes() {
    return {true, 10, 24000, 600};
}

TEST(RippleBand, OfCombsIsTheirClosedForm) {
    for (const double g : {0.001, 0.3, 0.7, 0.999}) {
        for (const std::size_t delay : {5000u, 48000u, 172800000u}) {
            const Filter forward(ParallelSum{{{1, Filter()}, {g, Filter(Delay{delay})}}});
            const Filter back = closed_loop({Filter(), g, Filter(Delay{delay})}).value();
            for (const double sign : {1.0, -1.0}) { // the one is the other's inverse but for a turn
                const RippleBand band =
                    ripple_band(sign > 0 ? forward : back, columns_of_the_lanes(), rate);
                ASSERT_FALSE(band.empty());
                EXPECT_EQ(band.frequency_hz.size(), band.magnitude_db.least.size());
                const double high = sign > 0 ? 1 + g : 1 / (1 - g);
                const double low = sign > 0 ? 1 - g : 1 / (1 + g);
                const double whole = 2.1 * rippling_from_hz(forward, columns_of_the_lanes(), rate);
                for (std::size_t i = 0; i < band.frequency_hz.size(); ++i) {
                    if (band.frequency_hz[i] < whole && delay < 100'000) {
                        continue; // less than a ripple in the column
                    }
                    ASSERT_NEAR(band.magnitude_db.most[i], db_from_ratio(high), 0.05)
                        << delay << " samples, " << g << ", " << band.frequency_hz[i] << " Hz";
                    ASSERT_NEAR(band.magnitude_db.least[i], db_from_ratio(low), 0.05)
                        << delay << " samples, " << g << ", " << band.frequency_hz[i] << " Hz";
                }
            }
        }
    }
}

TEST(RippleBand, ASlopeIsNoBandWhenDrawn) {
    const auto columns = [](std::vector<double> least, std::vector<double> most) {
        RippleBand band;
        band.frequency_hz.assign(least.size(), 1);
        band.magnitude_db = {std::move(least), std::move(most)};
        return without_runs(band).magnitude_db;
    };
    const auto up = columns({0, 1, 2.1}, {1, 2, 3});
    EXPECT_EQ(up.least, (std::vector{0.5, 1.5, 2.55}));
    EXPECT_EQ(up.most, up.least);
    const auto down = columns({2, 1, 0}, {3, 2, 1});
    EXPECT_EQ(down.least, (std::vector{2.5, 1.5, 0.5}));
    // Ripples stay, also beside a slope.
    const auto ripples = columns({0, 0, 0}, {3, 3, 3});
    EXPECT_EQ(ripples.most, (std::vector<double>{3, 3, 3}));
    const auto mixed = columns({0, 1, 0}, {1, 2, 3});
    EXPECT_EQ(mixed.least[2], 0);
    EXPECT_EQ(mixed.most[2], 3);
    EXPECT_TRUE(without_runs(RippleBand()).empty());
}

TEST(RippleBand, BeginsWhereAColumnHoldsHalfARipple) {
    const Filter comb(ParallelSum{{{1, Filter()}, {0.5, Filter(Delay{48000})}}});
    const EvenSpacing spacing = columns_of_the_lanes();
    const double from = rippling_from_hz(comb, spacing, rate);
    const double column = from * (std::pow(2400, 1.0 / 599) - 1);
    EXPECT_NEAR(column, 0.5, 1e-9) << "its teeth are 1 Hz apart";
    EXPECT_GE(ripple_band(comb, spacing, rate).frequency_hz.front(), from);
    // A longer delay alone adds no ripples, nor do sections.
    const Filter delay(Delay{480000});
    EXPECT_EQ(rippling_from_hz(delay, spacing, rate), spacing.high_hz);
    EXPECT_TRUE(ripple_band(delay, spacing, rate).empty());
    // In equal steps it is all or nothing.
    EXPECT_EQ(rippling_from_hz(comb, {false, 0, 24000, 600}, rate), 0);
    EXPECT_EQ(rippling_from_hz(comb, {false, 0, 24, 600}, rate), 24);
}

TEST(RippleBand, HoldsWhatManySamplesShow) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> factor(-0.6, 0.6);
    std::uniform_int_distribution<std::size_t> samples(3000, 40000);
    const Filter tone(Cascade{{Biquad{0.2, 0, 0, -0.8, 0}}});
    for (int i = 0; i < 6; ++i) {
        const Filter one =
            closed_loop({tone, factor(random), Filter(Delay{samples(random)})}).value();
        const Filter net(ParallelSum{{{1, one}, {factor(random), Filter(Delay{samples(random)})}}});
        const EvenSpacing spacing = columns_of_the_lanes();
        const RippleBand band = ripple_band(net, spacing, rate);
        const Probe probe(net, rate);
        const std::size_t first = spacing.count - 1 - band.frequency_hz.size();
        for (std::size_t k = 1; k < band.frequency_hz.size(); k += 97) {
            const double low = spacing.at(first + k), high = spacing.at(first + k + 1);
            double least = infinity, most = -infinity;
            for (int n = 0; n < 4000; ++n) {
                const double level = probe.level_db(low + (high - low) * n / 4000);
                least = std::min(least, level);
                most = std::max(most, level);
            }
            // As ratios: of a dip to nothing decibels have no end.
            EXPECT_NEAR(ratio_from_db(band.magnitude_db.most[k]), ratio_from_db(most), 0.12)
                << i << " " << low;
            EXPECT_NEAR(ratio_from_db(band.magnitude_db.least[k]), ratio_from_db(least), 0.12)
                << i << " " << low;
        }
    }
}

} // namespace
} // namespace syntonon
