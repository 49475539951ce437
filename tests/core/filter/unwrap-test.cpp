// The phase of a filter whose roots are not known, against the same filter's root by root.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/unwrap.h"

#include "core/base/units.h"
#include "core/filter/analog_cascade.h"
#include "core/filter/filter.h"
#include "core/filter/parallel.h"
#include "core/filter/taps.h"
#include "core/math/fft.h"
#include "tests/support/rate.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <gtest/gtest.h>
#include <random>

namespace syntonon {
namespace {

// Conjugate pairs of zeros as sections, and multiplied out as taps.
struct BothWays {
    Filter sections, taps;
};

BothWays random_zeros(std::size_t pairs, double least_radius, double greatest_radius,
                      unsigned seed) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> radius(least_radius, greatest_radius), angle(0.01, 3.13);
    Cascade cascade;
    std::vector<double> taps{1};
    for (std::size_t i = 0; i < pairs; ++i) {
        const std::complex<double> zero = std::polar(radius(random), angle(random));
        const Biquad section{1, -2 * zero.real(), std::norm(zero), 0, 0};
        cascade.sections.push_back(section);
        const double factor[] = {section.b0, section.b1, section.b2};
        taps = convolved(taps, factor, taps.size() + 2);
    }
    return {Filter(cascade), Filter(Taps(std::move(taps)))};
}

class RandomZeros : public testing::TestWithParam<unsigned> {};

TEST_P(RandomZeros, TurnAsFarAsTheirRootsSay) {
    const unsigned seed = GetParam();
    // Within the circle, outside it, and close to it on both sides.
    const double least = seed % 3 == 1 ? 1.01 : 0.6, greatest = seed % 3 == 0 ? 0.98 : 1.3;
    const BothWays filter = random_zeros(1 + seed % 17, least, greatest, seed);
    for (const auto& grid : {FrequencyGrid::logarithmic(20, 24000, 60, rate).value(),
                             FrequencyGrid::linear(0, 23999, 7, rate).value()}) {
        const auto wanted = filter.sections.response(grid).phase_rad;
        const auto got = filter.taps.response(grid).phase_rad;
        for (std::size_t i = 0; i < grid.size(); ++i) {
            EXPECT_NEAR(got[i], wanted[i], 1e-6) << "at " << grid.frequency_hz()[i] << " Hz";
        }
    }
}

INSTANTIATE_TEST_SUITE_P(Seeds, RandomZeros, testing::Range(0u, 60u));

TEST(Unwrap, APureDelayTurnsOnAndOnBetweenFarPoints) {
    std::vector<double> taps(5001);
    taps.back() = 1;
    const Filter late{Taps(std::move(taps))};
    const auto grid = FrequencyGrid::from_frequencies({1, 100, 24000}, rate).value();
    const auto phase = late.response(grid).phase_rad;
    for (std::size_t i = 0; i < grid.size(); ++i) {
        EXPECT_NEAR(phase[i], -2 * pi * grid.frequency_hz()[i] / rate * 5000, 1e-6);
    }
}

TEST(Unwrap, ASinglePointIsFollowedFromZeroToo) {
    const BothWays filter = random_zeros(11, 1.01, 1.3, 10);
    for (const double hz : {500.0, 7000.0, 15999.0, 23999.0}) {
        EXPECT_NEAR(filter.taps.response_at(hz, rate).phase_rad,
                    filter.sections.response_at(hz, rate).phase_rad, 1e-6);
        // At another rate the same place on the circle.
        EXPECT_NEAR(filter.taps.response_at(hz * 2, 2 * rate).phase_rad,
                    filter.sections.response_at(hz, rate).phase_rad, 1e-6);
    }
}

TEST(Unwrap, AZeroOnTheCircleIsAJumpByHalfATurn) {
    // 1 + z^-2 has its zero at 12 kHz; below it the phase is that of one sample.
    const Filter comb{Taps(std::vector<double>{1, 0, 1})};
    const auto grid = FrequencyGrid::from_frequencies({6000, 11999, 12001, 18000}, rate).value();
    const auto phase = comb.response(grid).phase_rad;
    for (std::size_t i = 0; i < grid.size(); ++i) {
        const double linear = -2 * pi * grid.frequency_hz()[i] / rate;
        EXPECT_NEAR(std::abs(phase[i] - linear), i < 2 ? 0 : pi, 1e-6);
    }
}

// What a split of a classical filter and an FIR is without the mapping of the one.
TEST(Unwrap, AnalogPartsBesideSampledOnesAreFollowedOnTheAxisThatIsAsked) {
    std::vector<double> taps(61, 0.0);
    taps[30] = 1;
    const AnalogCascade one_pole{{AnalogSection{0, 0, 0.1, 0, 1e-4, 1}}};
    const Filter mixed(ParallelSum{{{1, Filter(Taps(taps))}, {1, Filter(one_pole)}}});
    EXPECT_TRUE(mixed.is_mixed());
    EXPECT_FALSE(Filter(one_pole).is_mixed());
    EXPECT_FALSE(Filter(Taps(taps)).is_mixed());
    const Filter analog(ParallelSum{{{1, Filter(one_pole)}, {-0.5, Filter(one_pole)}}});
    for (const double at : {44100.0, 96000.0}) {
        const Axis axis(at);
        for (const Filter& filter : {mixed, analog}) {
            const auto followed = filter.followed_hz(axis);
            EXPECT_GT(followed.size(), 100U);
            EXPECT_LE(*std::ranges::max_element(followed), at / 2);
        }
        const auto grid = FrequencyGrid::from_frequencies({200, 0.45 * at}, axis);
        const Response response = mixed.response(*grid);
        // The pure delay of 30 samples; a tenth more or less turns it by a tenth at most.
        EXPECT_NEAR(response.phase_rad[1], -30 * axis.rad_per_sample(0.45 * at), 0.11);
        EXPECT_NEAR(response.phase_rad[0], -30 * axis.rad_per_sample(200), 0.11);
    }
}

} // namespace
} // namespace syntonon
