// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/modelled/ladder.h"

#include "core/filter/modelled/ladder_filter_kernel.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

namespace syntonon::modelled {
namespace {

constexpr std::array ladder_types = {LadderType::transistor, LadderType::diode};

TEST(SmallSignal, HasTheGainOfItsEquationsAtRest) {
    EXPECT_NEAR(std::abs(small_signal(LadderType::transistor, 0, 4, 0)), 1, 1e-12);
    EXPECT_NEAR(std::abs(small_signal(LadderType::transistor, 0.5, 4, 0)), 1 / (1 + 2.0), 1e-12);
    EXPECT_NEAR(std::abs(small_signal(LadderType::diode, 0, 4, 0)), 3, 1e-12);
    const double k = ladder_limit(LadderType::diode);
    EXPECT_NEAR(std::abs(small_signal(LadderType::diode, 1, 4, 0)), 3 / (1 + 3 * k), 1e-12);
    EXPECT_NEAR(std::abs(small_signal(LadderType::transistor, 0, 2, {0, 1})), 0.5, 1e-12)
        << "two poles at their frequency";
}

// What goes in is what the poles' currents need: y1' = w (i0 - i1) and so on.
TEST(SmallSignal, OfTheDiodeLadderMeetsItsFourEquations) {
    const std::complex<double> s(0.1, 0.7), p = s * std::sqrt(18.0 / 19);
    std::array<std::complex<double>, 5> y;
    for (std::size_t i = 0; i < y.size(); ++i) {
        y[i] = small_signal(LadderType::diode, 0.6, i, s);
    }
    EXPECT_LT(std::abs(p * y[1] - (y[0] - (y[1] - y[2]))), 1e-12);
    EXPECT_LT(std::abs(p * y[2] - ((y[1] - y[2]) - (y[2] - y[3]))), 1e-12);
    EXPECT_LT(std::abs(p * y[3] - ((y[2] - y[3]) - (y[3] - y[4]))), 1e-12);
    EXPECT_LT(std::abs(p * y[4] - ((y[3] - y[4]) - y[4] / 3.0)), 1e-12);
    EXPECT_LT(std::abs(y[0] - (1.0 - 0.6 * ladder_limit(LadderType::diode) * y[4])), 1e-12);
}

TEST(SmallSignalPoles, AreWhereTheAnswerIsBeyondAllBounds) {
    for (const LadderType type : ladder_types) {
        for (const double resonance : {0.1, 0.7, 1.2}) {
            const auto poles = small_signal_poles(type, resonance);
            ASSERT_EQ(poles.size(), 4u);
            for (const auto& pole : poles) {
                EXPECT_GT(std::abs(small_signal(type, resonance, 4, pole)), 1e6);
            }
        }
    }
}

TEST(SmallSignalPoles, StandOnTheAxisAtTheLimit) {
    for (const LadderType type : ladder_types) {
        const auto poles = small_signal_poles(type, 1);
        EXPECT_EQ(std::ranges::count_if(poles,
                                        [](const auto& pole) {
                                            return std::abs(pole - std::complex<double>(0, 1))
                                                   < 1e-9;
                                        }),
                  1);
        for (const auto& pole : small_signal_poles(type, 0.99)) {
            EXPECT_LT(pole.real(), 0);
        }
    }
}

TEST(DescribingGain, IsOneForNothingAndThatOfASquareForMuch) {
    EXPECT_EQ(describing_gain(0), 1);
    EXPECT_NEAR(describing_gain(0.1), 1 - 0.01 / 4, 2e-5) << "tanh x = x - x^3/3";
    EXPECT_NEAR(describing_gain(1000) * 1000, 4 / std::numbers::pi, 1e-3);
}

TEST(SelfOscillation, BeginsAtTheLimitAndGrows) {
    for (const LadderType type : ladder_types) {
        EXPECT_FALSE(self_oscillation(type, 1));
        const auto small = self_oscillation(type, 1.0001), large = self_oscillation(type, 1.5);
        ASSERT_TRUE(small && large);
        EXPECT_NEAR(small->frequency, 1, 1e-4);
        EXPECT_LT(small->amplitude, 0.01);
        EXPECT_GT(large->amplitude, 10 * small->amplitude);
    }
}

TEST(DrivenResponse, OfSmallSignalsIsTheLinearOne) {
    for (const LadderType type : ladder_types) {
        LadderBuild build;
        build.type = type;
        const double rest = std::abs(small_signal(type, 0, 4, 0));
        for (const double w : {0.1, 0.9, 1.0, 3.0}) {
            const auto driven = driven_response(build, 0.6, 1e-5, w);
            ASSERT_TRUE(driven) << w;
            const auto wanted = small_signal(type, 0.6, 4, {0, w}) / rest;
            EXPECT_LT(std::abs(*driven - wanted), 1e-6 * std::abs(wanted)) << w;
        }
    }
}

// The fundamental of what the equations themselves make of a sine, step by step.
TEST(DrivenResponse, OfLoudSignalsIsWhatComesOut) {
    constexpr double rate = 48000, hz = 250, set_hz = 500;
    for (const LadderType type : ladder_types) {
        LadderBuild build;
        build.type = type;
        build.doublings = 3;
        LadderFilter<1> filter;
        filter.prepare(build, rate);
        filter.set(0, {set_hz, 0.5, 0});
        const double amplitude = 1.5;
        std::complex<double> sum;
        const int periods = 40, length = int(rate / hz) * periods;
        for (int n = 0; n < 2 * length; ++n) {
            const double angle = 2 * std::numbers::pi * hz * n / rate;
            LadderFilter<1>::Row x{amplitude * std::sin(angle)};
            filter.process(&x, 1);
            if (n >= length) {
                sum += x[0] * std::polar(1.0, -angle);
            }
        }
        const double heard = std::abs(sum) * 2 / length / amplitude;
        const auto driven = driven_response(build, 0.5, amplitude, hz / set_hz);
        ASSERT_TRUE(driven);
        EXPECT_NEAR(20 * std::log10(std::abs(*driven) / heard), 0, 0.4);
        const auto small = driven_response(build, 0.5, 1e-6, hz / set_hz);
        EXPECT_GT(std::abs(20 * std::log10(std::abs(*small / *driven))), 0.5) << "it does saturate";
    }
}

} // namespace
} // namespace syntonon::modelled
