// What any filter answers, against closed forms of known sections.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/filter.h"

#include "core/base/units.h"
#include "core/design/parametric.h"

#include <cmath>
#include <complex>
#include <gtest/gtest.h>
#include <numbers>

namespace syntonon {
namespace {

// (1 - g) / (1 - g z^-1): the leaky integrator, gain 1 at 0 Hz.
Filter leaky(double g) {
    return Filter(Cascade{{Biquad{1 - g, 0, 0, -g, 0}}});
}

TEST(Filter, AWireChangesNothing) {
    const Filter wire;
    const auto grid = FrequencyGrid::linear(0, 24000, 25, 48000).value();
    const Response response = wire.response(grid);
    for (std::size_t i = 0; i < grid.size(); ++i) {
        EXPECT_EQ(response.magnitude_db[i], 0);
        EXPECT_EQ(response.phase_rad[i], 0);
        EXPECT_EQ(response.group_delay_samples[i], 0);
    }
    EXPECT_EQ(wire.impulse_response(3), (std::vector<double>{1, 0, 0}));
    EXPECT_TRUE(wire.is_stable());
    EXPECT_EQ(wire.cost(), Cost{});
    EXPECT_EQ(wire.latency_samples(), 0);
}

TEST(Filter, ALeakyIntegratorHasItsClosedForm) {
    constexpr double g = 0.9;
    const Filter filter = leaky(g);
    for (const double hz : {0.0, 10.0, 500.0, 7000.0, 24000.0}) {
        const double w = rad_per_sample_from_hz(hz, 48000);
        // |H|^2 = (1-g)^2 / (1 - 2 g cos w + g^2); delay = g (cos w - g) / (1 - 2 g cos w + g^2).
        const double denominator = 1 - 2 * g * std::cos(w) + g * g;
        const ResponsePoint at = filter.response_at(hz, 48000);
        EXPECT_NEAR(at.magnitude_db, db_from_power((1 - g) * (1 - g) / denominator), 1e-10);
        EXPECT_NEAR(at.group_delay_samples, g * (std::cos(w) - g) / denominator, 1e-10);
        EXPECT_NEAR(at.phase_rad, -std::atan2(g * std::sin(w), 1 - g * std::cos(w)), 1e-12);
    }
    EXPECT_NEAR(*filter.stability_margin(), 1 - g, 1e-15);
}

TEST(Filter, ADelayHasConstantGroupDelayAndFallingPhase) {
    const Filter two_samples(Cascade{{Biquad{0, 0, 1, 0, 0}}});
    const auto grid = FrequencyGrid::linear(100, 23900, 50, 48000).value();
    const Response response = two_samples.response(grid);
    for (std::size_t i = 0; i < grid.size(); ++i) {
        EXPECT_NEAR(response.magnitude_db[i], 0, 1e-12);
        EXPECT_NEAR(response.group_delay_samples[i], 2, 1e-9);
        EXPECT_NEAR(response.phase_rad[i],
                    -2 * rad_per_sample_from_hz(grid.frequency_hz()[i], 48000), 1e-9);
    }
    EXPECT_EQ(two_samples.latency_samples(), 2);
}

TEST(Filter, LinearPhaseZerosDelayByOneSample) {
    // 1 + 1.2 z^-1 + z^-2 is symmetric: delay 1 except at its own zeros.
    const Filter symmetric(Cascade{{Biquad{1, 1.2, 1, 0, 0}}});
    for (const double hz : {100.0, 5000.0, 10000.0}) {
        EXPECT_NEAR(symmetric.response_at(hz, 48000).group_delay_samples, 1, 1e-9);
    }
}

TEST(Filter, MaximumPhaseTurnsFurtherThanMinimumPhase) {
    const Filter minimum(Cascade{{Biquad{1, -0.5, 0, 0, 0}}}),
        maximum(Cascade{{Biquad{-0.5, 1, 0, 0, 0}}});
    const auto grid = FrequencyGrid::linear(10, 23990, 100, 48000).value();
    const Response a = minimum.response(grid), b = maximum.response(grid);
    for (std::size_t i = 0; i < grid.size(); ++i) {
        EXPECT_NEAR(a.magnitude_db[i], b.magnitude_db[i], 1e-9)
            << "mirrored zeros have the same level";
        EXPECT_GT(a.group_delay_samples[i] + 1e-12, -1.0);
        EXPECT_GT(b.group_delay_samples[i], a.group_delay_samples[i]);
    }
}

TEST(Filter, PolesOnOrOutsideTheCircleAreUnstable) {
    EXPECT_TRUE(leaky(0.999999).is_stable());
    EXPECT_FALSE(leaky(1.0).is_stable());
    EXPECT_FALSE(leaky(-1.01).is_stable());
}

TEST(Filter, ResponsesFollowOneAnother) {
    const auto grid = FrequencyGrid::logarithmic(20, 20000, 30, 48000).value();
    const Filter first = leaky(0.5), second = leaky(-0.3);
    Response both = first.response(grid);
    both.follow_with(second.response(grid));
    const Filter cascade(Cascade{{first.sections()->sections[0], second.sections()->sections[0]}});
    const Response whole = cascade.response(grid);
    for (std::size_t i = 0; i < grid.size(); ++i) {
        EXPECT_NEAR(both.magnitude_db[i], whole.magnitude_db[i], 1e-12);
        EXPECT_NEAR(both.phase_rad[i], whole.phase_rad[i], 1e-12);
        EXPECT_NEAR(both.group_delay_samples[i], whole.group_delay_samples[i], 1e-12);
    }
}

TEST(Filter, RootsRebuildTheTransferFunction) {
    const Filter filter(Cascade{
        {Biquad{0.3, -0.2, 0.1, -1.1, 0.5}, Biquad{0, 2, 1, 0.4, 0}, Biquad{1, 0, -1, 0, -0.25}}});
    const Roots& roots = *filter.roots();
    const std::complex<double> z = std::polar(1.0, 0.7);
    std::complex<double> h = roots.gain;
    for (const auto& zero : roots.zeros) {
        h *= z - zero;
    }
    for (const auto& pole : roots.poles) {
        h /= z - pole;
    }
    const auto excess =
        static_cast<double>(roots.poles.size()) - static_cast<double>(roots.zeros.size());
    h *= std::pow(z, excess - filter.latency_samples());
    const double level = filter.response_at(hz_from_rad_per_sample(0.7, 48000), 48000).magnitude_db;
    EXPECT_NEAR(db_from_ratio(std::abs(h)), level, 1e-10);
}

// The quick ways must say what the full response says.
TEST(Filter, QuickDelayAndPhaseAgreeWithTheResponse) {
    Cascade cascade;
    for (int i = 0; i < 21; ++i) {
        const ParametricSpec spec =
            parametric(ParametricShape::peak, 60 * std::exp2(i * 0.4), i % 2 == 0 ? 9 : -7, 4);
        cascade.sections.push_back(parametric_filter(spec, 48000)->sections()->sections[0]);
    }
    cascade.sections.push_back(Biquad{1, -2 * std::cos(0.3), 1, 0, 0}); // a zero on the circle
    const Filter filter(cascade);
    const auto grid = FrequencyGrid::logarithmic(20, 24000, 500, 48000).value();
    const Response full = filter.response(grid);
    const auto delay = filter.group_delay_samples(grid);
    const auto phase = filter.wrapped_phase_rad(grid);
    for (std::size_t i = 0; i < grid.size(); ++i) {
        EXPECT_NEAR(delay[i], full.group_delay_samples[i],
                    1e-9 * (1 + std::abs(full.group_delay_samples[i])));
        EXPECT_NEAR(std::remainder(phase[i] - full.phase_rad[i], 2 * std::numbers::pi), 0, 1e-9);
        EXPECT_NEAR(Probe(filter, 48000).group_delay_samples(grid.frequency_hz()[i]), delay[i],
                    1e-9 * (1 + std::abs(delay[i])));
    }
    EXPECT_TRUE(
        std::isnan(Probe(Cascade{{Biquad{0, 0, 0, 0, 0}}}, 48000).group_delay_samples(100)));
}

} // namespace
} // namespace syntonon
