// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/modelled/half_band.h"

#include "core/filter/modelled/oversampling_kernel.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>
#include <vector>

namespace syntonon::modelled {
namespace {

double level_db(const HalfBandCoefficients& c, double share) {
    return 20 * std::log10(std::abs(response(c, share)));
}

TEST(HalfBand, PassesAndStopsAsDeepAsItCan) {
    // 48 kHz to 96 kHz: up to 20 kHz, from 28 kHz on.
    const auto c = half_band(10, 8.0 / 96);
    double passes = 0, stops = -1000, last_stop = 0;
    for (double hz = 0; hz <= 20'000; hz += 50) {
        passes = std::max(passes, std::abs(level_db(c, hz / 96'000)));
    }
    for (double hz = 28'000; hz <= 48'000; hz += 25) {
        stops = std::max(stops, level_db(c, hz / 96'000));
    }
    last_stop = level_db(c, 28'000.0 / 96'000);
    EXPECT_LT(passes, 1e-8);
    EXPECT_LT(stops, -100);
    EXPECT_NEAR(last_stop, stops, 0.1) << "equal lobes, the first of them at the edge";
    EXPECT_NEAR(level_db(c, 0.25), 20 * std::log10(std::sqrt(0.5)), 1e-9) << "half the power";
}

TEST(HalfBand, MoreSectionsOrRoomStopMore) {
    double before = 0;
    for (const std::size_t sections : {2u, 4u, 6u, 8u}) {
        const double now = level_db(half_band(sections, 0.1), 0.3);
        EXPECT_LT(now, before - 15);
        before = now;
    }
    EXPECT_LT(level_db(half_band(4, 0.2), 0.35), level_db(half_band(4, 0.1), 0.3) - 15);
}

TEST(DoublingFilters, AreThoseOfTheClosedForm) {
    const std::array transitions = {8.0 / 96, 56.0 / 192, 152.0 / 384};
    const std::array first_folding = {28.0 / 96, 76.0 / 192, 172.0 / 384}; // into 20 kHz of 48
    const std::array stops_db = {-112, -101, -102};
    for (std::size_t level = 0; level < most_doublings; ++level) {
        const HalfBandCoefficients& kept = doubling_filters.at(level);
        const auto made = half_band(kept.count, transitions.at(level));
        for (std::size_t i = 0; i < kept.count; ++i) {
            EXPECT_NEAR(kept.a.at(i), made.a.at(i), 1e-15) << level << ", " << i;
        }
        EXPECT_LT(level_db(kept, first_folding.at(level)), stops_db.at(level));
    }
}

// A tone that comes up, goes down again and has met nothing but two delays.
TEST(HalfBand, RunsAsItAnswers) {
    const auto c = half_band(10, 8.0 / 96);
    HalfBandState<1> up, down;
    const double angle = 2 * std::numbers::pi * 5000 / 48'000;
    std::complex<double> high_sum, low_sum;
    constexpr int settling = 2000, count = 48 * 200;
    for (int n = 0; n < settling + count; ++n) {
        std::array<double, 1> earlier, later, one;
        step_up(c, up, {std::cos(angle * n)}, earlier, later);
        if (n >= settling) {
            high_sum += earlier[0] * std::polar(1.0, -angle / 2 * (2 * n))
                        + later[0] * std::polar(1.0, -angle / 2 * (2 * n + 1));
        }
        step_down(c, down, earlier, later, one);
        low_sum += n >= settling ? one[0] * std::polar(1.0, -angle * n) : 0;
    }
    const auto wanted = response(c, 5000.0 / 96'000);
    EXPECT_LT(std::abs(high_sum / double(count) - wanted), 1e-9);
    const auto there_and_back = 2.0 * low_sum / double(count);
    const auto later = std::polar(1.0, angle / 2); // the pair's later sample is the one that counts
    EXPECT_LT(std::abs(there_and_back - wanted * wanted * later), 1e-9);
}

} // namespace
} // namespace syntonon::modelled
