// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/modelled/ladder_kernel.h"

#include "core/filter/modelled/ladder.h"

#include <cmath>
#include <complex>
#include <gtest/gtest.h>
#include <numbers>
#include <random>
#include <vector>

namespace syntonon::modelled {
namespace {

constexpr double ladder_rate_hz = 96'000;

struct Voice {
    LadderVoices<1> one;
    FourValues y() const { return one.of_voice(one.y, 0); }
};
double step(LadderType type, const LadderCoefficients& c, Voice& voice, double x,
            int steps = newton_steps) {
    voice.one.set(0, c);
    type == LadderType::transistor ? step_ladders<LadderType::transistor>(voice.one, {x}, steps)
                                   : step_ladders<LadderType::diode>(voice.one, {x}, steps);
    return voice.one.y[3][0];
}

class OfEachType : public ::testing::TestWithParam<LadderType> {};
INSTANTIATE_TEST_SUITE_P(Ladder, OfEachType,
                         ::testing::Values(LadderType::transistor, LadderType::diode));

TEST(Saturated, IsTheHyperbolicTangentAndHeld) {
    double last = -2;
    for (double x = -8; x < 8; x += 0.003) {
        EXPECT_NEAR(saturated(x), std::tanh(x), 1e-4);
        EXPECT_GE(saturated(x), last) << "it grows";
        EXPECT_EQ(saturated(-x), -saturated(x));
        last = saturated(x);
    }
    EXPECT_NEAR(saturated(1e9), 1, 1e-9);
}

TEST(Prewarped, IsTheTangent) {
    for (double angle = 0; angle <= 0.3 * std::numbers::pi; angle += 1e-3) {
        EXPECT_NEAR(prewarped(angle), std::tan(angle), 5e-12);
    }
}

// Everything changes at every sample, as far as it goes.
TEST_P(OfEachType, NewtonsMethodSettlesWhereItIsEnclosed) {
    std::mt19937_64 random(3);
    std::uniform_real_distribution<double> share(0, 1);
    Voice voice;
    for (int i = 0; i < 600; ++i) {
        const auto c = ladder_coefficients(GetParam(), 200 * std::pow(100, share(random)),
                                           1.3 * share(random), ladder_rate_hz);
        const double x = (2 * share(random) - 1) * std::pow(10, 2 * share(random));
        Voice enclosed = voice;
        step(GetParam(), c, voice, x);
        step(GetParam(), c, enclosed, x, 0);
        for (std::size_t k = 0; k < ladder_poles; ++k) {
            ASSERT_NEAR(voice.y()[k], enclosed.y()[k], 1e-5) << i << ", pole " << k;
        }
    }
}

TEST_P(OfEachType, StaysWithinBoundsWhateverChanges) {
    std::mt19937_64 random(4);
    std::uniform_real_distribution<double> share(0, 1);
    Voice voice;
    for (int i = 0; i < 60'000; ++i) {
        const auto c = ladder_coefficients(GetParam(), 60'000 * share(random) - 1000,
                                           2 * share(random), ladder_rate_hz);
        const double y = step(GetParam(), c, voice, 1e3 * (2 * share(random) - 1));
        ASSERT_TRUE(std::isfinite(y)) << i;
        ASSERT_LT(std::abs(y), 100) << i;
    }
    for (int i = 0; i < 30'000; ++i) { // and comes to rest
        step(GetParam(), ladder_coefficients(GetParam(), 1000, 0.5, ladder_rate_hz), voice, 0);
    }
    EXPECT_LT(std::abs(voice.y()[3]), 1e-9);
}

// Many side by side, all of them changing.
TEST_P(OfEachType, AVoiceAmongOthersIsToTheLastBitAsAlone) {
    constexpr std::size_t count = 5;
    std::mt19937_64 random(8);
    std::uniform_real_distribution<double> share(0, 1);
    LadderVoices<count> together;
    std::array<Voice, count> alone;
    for (int i = 0; i < 3000; ++i) {
        std::array<double, count> x{};
        for (std::size_t j = 0; j < count; ++j) {
            const auto c = ladder_coefficients(GetParam(), 20 * std::pow(1000, share(random)),
                                               1.2 * share(random), ladder_rate_hz);
            x[j] = 4 * share(random) - 2;
            together.set(j, c);
            step(GetParam(), c, alone[j], x[j]);
        }
        GetParam() == LadderType::transistor ? step_ladders<LadderType::transistor>(together, x)
                                             : step_ladders<LadderType::diode>(together, x);
        for (std::size_t j = 0; j < count; ++j) {
            ASSERT_EQ(together.of_voice(together.y, j), alone[j].y()) << i << ", voice " << j;
        }
    }
}

// The trapezoidal rule bends the axis by the tangent, and nothing else.
TEST_P(OfEachType, SmallSignalsMeetTheAnalogFilter) {
    constexpr double set_hz = 1000, small = 1e-5;
    const auto c = ladder_coefficients(GetParam(), set_hz, 0.8, ladder_rate_hz);
    std::vector<double> answer(1 << 15);
    Voice voice;
    for (std::size_t n = 0; n < answer.size(); ++n) {
        answer[n] = step(GetParam(), c, voice, n == 0 ? small : 0) / small;
    }
    for (const double hz : {20.0, 300.0, 1000.0, 3000.0, 10'000.0}) {
        const double angle = 2 * std::numbers::pi * hz / ladder_rate_hz;
        std::complex<double> sum;
        for (std::size_t n = 0; n < answer.size(); ++n) {
            sum += answer[n] * std::polar(1.0, -angle * static_cast<double>(n));
        }
        const double bent =
            std::tan(angle / 2) / std::tan(std::numbers::pi * set_hz / ladder_rate_hz);
        const auto wanted = small_signal(GetParam(), 0.8, 4, {0, bent});
        EXPECT_NEAR(20 * std::log10(std::abs(sum / wanted)), 0, 0.001) << hz;
        EXPECT_NEAR(std::arg(sum / wanted), 0, 0.001) << hz;
    }
}

// Hz, from the upward crossings of what it swings to.
double swings_at(LadderType type, double set_hz, double resonance) {
    const auto c = ladder_coefficients(type, set_hz, resonance, ladder_rate_hz);
    Voice voice;
    voice.one.s[0][0] = 0.05;
    const auto count = static_cast<int>(ladder_rate_hz * std::max(0.3, 120 / set_hz));
    double first = 0, last = 0, before = 0;
    int turns = -1;
    for (int n = 0; n < count; ++n) {
        const double y = step(type, c, voice, 0);
        if (n > count / 2 && before < 0 && y >= 0) {
            last = n - 1 - before / (y - before);
            first = turns < 0 ? last : first;
            ++turns;
        }
        before = y;
    }
    return turns * ladder_rate_hz / (last - first);
}

// Also where its stages saturate.
TEST_P(OfEachType, SwingsWhereItIsSet) {
    for (const double hz : {20.0, 440.0, 5000.0, 10'000.0}) {
        // What is slow takes long to follow: once is enough.
        const auto resonances = hz < 100 ? std::vector{1.07} : std::vector{1.001, 1.07, 1.4, 2.0};
        for (const double resonance : resonances) {
            EXPECT_NEAR(1200 * std::log2(swings_at(GetParam(), hz, resonance) / hz), 0, 2)
                << hz << " Hz, resonance " << resonance;
        }
    }
}

TEST_P(OfEachType, IsTunedByWhatItsDescribingFunctionPredicts) {
    for (const double resonance : {1.01, 1.1}) {
        const auto predicted = self_oscillation(GetParam(), resonance);
        ASSERT_TRUE(predicted);
        const double tuned = ladder_swing(GetParam(), resonance, 0);
        EXPECT_LT(tuned, 1);
        EXPECT_NEAR(1200 * std::log2(tuned / predicted->frequency), 0, 1.5) << "but for harmonics";
    }
    EXPECT_EQ(ladder_swing(GetParam(), 0.9, 0.3), 1);
}

} // namespace
} // namespace syntonon::modelled
