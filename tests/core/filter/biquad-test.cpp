// Roots, grid, cascade: against closed forms and properties.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/cascade.h"

#include "core/base/units.h"

#include <cmath>
#include <complex>
#include <gtest/gtest.h>
#include <numeric>
#include <random>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

// A pair of roots at radius and angle, as coefficients of z^-1 and z^-2.
Biquad from_pairs(double zero_radius, double zero_angle, double pole_radius, double pole_angle) {
    return {1, -2 * zero_radius * std::cos(zero_angle), zero_radius * zero_radius,
            -2 * pole_radius * std::cos(pole_angle), pole_radius * pole_radius};
}

Complex direct(const Cascade& cascade, double w) {
    const Complex z1 = std::polar(1.0, -w), z2 = std::polar(1.0, -2 * w);
    Complex h = 1;
    for (const Biquad& s : cascade.sections) {
        h *= (s.b0 + s.b1 * z1 + s.b2 * z2) / (1.0 + s.a1 * z1 + s.a2 * z2);
    }
    return h;
}

Cascade random_cascade(std::size_t sections, unsigned seed) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> radius(0.3, 0.98), angle(0.05, 3.0);
    Cascade cascade;
    for (std::size_t i = 0; i < sections; ++i) {
        cascade.sections.push_back(
            from_pairs(radius(random), angle(random), radius(random), angle(random)));
    }
    return cascade;
}

TEST(QuadraticRoots, FindsPairsRealRootsAndLowerDegrees) {
    const auto pair = quadratic_roots(1, -2 * 0.9 * std::cos(1.0), 0.81);
    ASSERT_EQ(pair.size(), 2u);
    EXPECT_NEAR(std::abs(pair[0]), 0.9, 1e-15);
    EXPECT_NEAR(std::arg(pair[0]), 1.0, 1e-15);
    EXPECT_EQ(pair[1], std::conj(pair[0]));
    const auto far_apart =
        quadratic_roots(1.0, -1e8, 1.0); // 1e8 and 1e-8: the naive formula loses the small one
    EXPECT_NEAR(far_apart[1].real() / 1e-8, 1, 1e-12);
    EXPECT_EQ(quadratic_roots(0.0, 2.0, -1.0).size(), 1u);
    EXPECT_DOUBLE_EQ(quadratic_roots(0.0, 2.0, -1.0)[0].real(), 0.5);
    EXPECT_TRUE(quadratic_roots(0.0, 0.0, 5.0).empty());
    const auto twice = quadratic_roots(1.0, -2.0, 1.0);
    EXPECT_EQ(twice[0], Complex(1, 0));
    EXPECT_EQ(twice[1], Complex(1, 0));
}

TEST(Roots, LeaveOutWhatCancelsAtTheOrigin) {
    const Roots first_order = roots_of(Biquad{0.5, 0.5, 0, -0.2, 0});
    ASSERT_EQ(first_order.zeros.size(), 1u);
    ASSERT_EQ(first_order.poles.size(), 1u);
    EXPECT_DOUBLE_EQ(first_order.zeros[0].real(), -1);
    EXPECT_DOUBLE_EQ(first_order.poles[0].real(), 0.2);
    EXPECT_TRUE(roots_of(Biquad{}).poles.empty());
    EXPECT_DOUBLE_EQ(slowest_pole_radius(roots_of(Biquad{}), 1), 0);
    EXPECT_NEAR(slowest_pole_radius(roots_of(from_pairs(1, 1, 0.99, 2)), 1), 0.99, 1e-12);
}

TEST(Grid, HasItsEndsAndRefusesNonsense) {
    const auto grid = FrequencyGrid::logarithmic(20, 20000, 601, 48000).value();
    EXPECT_EQ(grid.size(), 601u);
    EXPECT_EQ(grid.frequency_hz().front(), 20);
    EXPECT_EQ(grid.frequency_hz().back(), 20000);
    EXPECT_NEAR(grid.frequency_hz()[300], std::sqrt(20.0 * 20000.0), 1e-9);
    const auto linear = FrequencyGrid::linear(0, 24000, 3, 48000).value();
    EXPECT_EQ(linear.frequency_hz()[1], 12000);
    EXPECT_EQ(linear.sine()[2], 0);
    EXPECT_FALSE(FrequencyGrid::logarithmic(0, 100, 10, 48000));
    EXPECT_FALSE(FrequencyGrid::linear(0, 30000, 10, 48000));
    EXPECT_FALSE(FrequencyGrid::from_frequencies({NAN}, 48000));
    EXPECT_FALSE(FrequencyGrid::from_frequencies({1}, 0));
    EXPECT_EQ(FrequencyGrid::from_frequencies({3, 1, 3}, 48000)->size(), 2u);
}

std::vector<double> near_roots(const Roots& roots) {
    std::vector<double> hz;
    add_near_roots(roots, {20, 20000, 1.01, 48000}, hz);
    return hz;
}

TEST(Grid, IsDenserNearSharpRoots) {
    const double angle = rad_per_sample_from_hz(1000, 48000);
    const Roots sharp = roots_of(from_pairs(0.5, 1, 1 - 1e-6, angle));
    const auto near = near_roots(sharp);
    const double half_width = 1e-6 * 48000 / (2 * pi);
    std::size_t inside = 0;
    for (const double f : near) {
        inside += std::abs(f - 1000) <= 2 * half_width ? 1 : 0;
    }
    EXPECT_GE(inside, 5u);
    EXPECT_TRUE(near_roots(roots_of(from_pairs(0.3, 1, 0.3, 2))).empty())
        << "wide bells need no help";
    EXPECT_FALSE(near_roots(roots_of(from_pairs(1, angle, 0.5, 1))).empty())
        << "a zero on the circle has no width";
}

class CascadeSizes : public testing::TestWithParam<std::size_t> {};

TEST_P(CascadeSizes, ResponseIsThatOfTheTransferFunction) {
    const Cascade cascade = random_cascade(GetParam(), 7);
    const auto grid =
        FrequencyGrid::logarithmic(10, 23990, 700, 48000).value(); // more than two blocks
    std::vector<double> re(grid.size()), im(grid.size());
    complex_response(cascade, grid, re, im);
    const Response all = response(cascade, grid);
    const auto levels = magnitude_db(cascade, grid);
    for (std::size_t i = 0; i < grid.size(); ++i) {
        const Complex h = direct(cascade, rad_per_sample_from_hz(grid.frequency_hz()[i], 48000));
        EXPECT_NEAR(std::abs(Complex(re[i], im[i]) / h - 1.0), 0, 1e-10);
        EXPECT_NEAR(all.magnitude_db[i], db_from_ratio(std::abs(h)), 1e-9);
        EXPECT_NEAR(levels[i], all.magnitude_db[i], 1e-9);
        EXPECT_NEAR(std::remainder(all.phase_rad[i] - std::arg(h), 2 * pi), 0, 1e-9);
    }
}
INSTANTIATE_TEST_SUITE_P(Sizes, CascadeSizes, testing::Values(0, 1, 2, 7, 8, 9, 33));

TEST(Cascade, ManyDeepSectionsDoNotUnderflow) {
    Cascade cascade;
    cascade.sections.assign(64, from_pairs(1, rad_per_sample_from_hz(1000, 48000), 0.5, 1));
    const auto grid = FrequencyGrid::from_frequencies({999.999}, 48000).value();
    EXPECT_NEAR(magnitude_db(cascade, grid)[0], response(cascade, grid).magnitude_db[0], 1e-6 * 64);
    EXPECT_TRUE(std::isfinite(response(cascade, grid).magnitude_db[0]));
}

TEST(Cascade, PhaseIsContinuousWithoutGuessing) {
    const Cascade cascade = random_cascade(24, 3);
    const auto coarse = FrequencyGrid::linear(10, 23990, 40, 48000)
                            .value(); // far too coarse to unwrap by neighbours
    const auto fine = FrequencyGrid::linear(10, 23990, 39 * 4096 + 1, 48000).value();
    const Response few = response(cascade, coarse), many = response(cascade, fine);
    for (std::size_t i = 1; i < fine.size(); ++i) {
        ASSERT_LT(std::abs(many.phase_rad[i] - many.phase_rad[i - 1]), 1.0);
    }
    for (std::size_t i = 0; i < coarse.size(); ++i) {
        EXPECT_NEAR(few.phase_rad[i], many.phase_rad[i * 4096], 1e-6);
    }
}

TEST(Cascade, GroupDelayIsTheSlopeOfThePhase) {
    const Cascade cascade = random_cascade(5, 11);
    for (const double hz : {50.0, 700.0, 5000.0, 15000.0}) {
        const double step = 0.01;
        const double above = Filter(cascade).response_at(hz + step, 48000).phase_rad,
                     below = Filter(cascade).response_at(hz - step, 48000).phase_rad;
        const double slope = -(above - below) / rad_per_sample_from_hz(2 * step, 48000);
        EXPECT_NEAR(Filter(cascade).response_at(hz, 48000).group_delay_samples, slope,
                    1e-4 * std::max(1.0, std::abs(slope)));
    }
}

TEST(Cascade, AZeroOnTheCircleIsAGapNotASpike) {
    const Cascade notch{{from_pairs(1, pi / 2, 0.9, pi / 2)}};
    const ResponsePoint at = Filter(notch).response_at(12000, 48000);
    EXPECT_LT(at.magnitude_db, -250);
    const Cascade high_pass{{Biquad{1, -2, 1, -1.8, 0.81}}};
    const ResponsePoint dc = Filter(high_pass).response_at(0, 48000);
    EXPECT_EQ(dc.magnitude_db, -std::numeric_limits<double>::infinity());
    EXPECT_TRUE(std::isnan(dc.group_delay_samples));
}

TEST(Cascade, TheLevelWhereZerosMeetPolesIsThatBesideThem) {
    const Axis axis{48'000};
    const FrequencyGrid grid = *FrequencyGrid::from_frequencies({0, 6000, 12000}, axis);
    const auto expect_level = [&](const Cascade& cascade, std::size_t at, double db) {
        EXPECT_NEAR(Filter(cascade).response_at(grid.frequency_hz()[at], axis).magnitude_db, db,
                    1e-12);
        EXPECT_NEAR(magnitude_db(cascade, grid)[at], db, 1e-12);
    };
    const Biquad difference{1, -1, 0, 0, 0}, sum{1, 0, 0, -1, 0}, // at 0 Hz
        curvature{1, -2, 1, 0, 0}, ring{0.5, 0, 0.5, 0, 1};       // at a quarter of the rate
    expect_level({{difference, sum}}, 0, 0);
    expect_level({{sum, curvature, sum}}, 0, 0);
    expect_level({{ring}}, 2, db_from_ratio(0.5));
    EXPECT_EQ(Filter(Cascade{{curvature, sum}}).response_at(0, axis).magnitude_db, -INFINITY);
    EXPECT_EQ(magnitude_db(Cascade{{curvature, sum}}, grid)[0], -INFINITY);
    EXPECT_EQ(Filter(Cascade{{sum, sum, difference}}).response_at(0, axis).magnitude_db, INFINITY);
    EXPECT_TRUE(std::isnan(magnitude_db(Cascade{{sum, sum, difference}}, grid)[0])) << "a gap";
}

TEST(Cascade, ImpulseResponseHasTheResponseAsItsTransform) {
    const Cascade cascade = random_cascade(3, 5);
    const auto h = Filter(cascade).impulse_response(4096);
    for (const double hz : {100.0, 3000.0, 20000.0}) {
        const double w = rad_per_sample_from_hz(hz, 48000);
        Complex sum = 0;
        for (std::size_t n = 0; n < h.size(); ++n) {
            sum += h[n] * std::polar(1.0, -w * static_cast<double>(n));
        }
        EXPECT_NEAR(std::abs(sum - direct(cascade, w)), 0, 1e-9);
    }
    EXPECT_TRUE(Filter(cascade).impulse_response(0).empty());
}

TEST(Cascade, OnePoleRingsAsAPowerSeries) {
    const auto h = Filter(Cascade{{Biquad{1, 0, 0, -0.5, 0}}}).impulse_response(8);
    for (std::size_t n = 0; n < h.size(); ++n) {
        EXPECT_DOUBLE_EQ(h[n], std::pow(0.5, static_cast<double>(n)));
    }
}

TEST(Cascade, CountsItsCostAndLatency) {
    const Cascade full{{Biquad{0.2, 0.3, 0.4, 0.5, 0.6}}};
    EXPECT_EQ(cost(full), (Cost{1, 5, 4, 2}));
    const Cascade first_order{{Biquad{0.2, 0.3, 0, 0.5, 0}}};
    EXPECT_EQ(cost(first_order), (Cost{1, 3, 2, 1}));
    const Cascade wire{{Biquad{}}};
    EXPECT_EQ(cost(wire), (Cost{1, 0, 0, 0}));
    EXPECT_EQ(latency_samples(full), 0);
    EXPECT_EQ(latency_samples(Cascade{{Biquad{0, 1, 0, 0, 0}, Biquad{0, 0, 1, 0, 0}}}), 3);
}

} // namespace
} // namespace syntonon
