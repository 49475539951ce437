// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/modelled/state_variable_kernel.h"

#include <cmath>
#include <complex>
#include <gtest/gtest.h>
#include <numbers>
#include <random>

namespace syntonon::modelled {
namespace {

using Response = StateVariableResponse;
constexpr double svf_rate_hz = 48'000, svf_hz = 2000, svf_gain_db = 9, svf_resonance = 0.6;

std::complex<double> measured(Response response, double hz) {
    const auto c =
        state_variable_coefficients(response, svf_hz, svf_resonance, svf_gain_db, svf_rate_hz);
    StateVariableState state;
    std::complex<double> sum;
    for (int n = 0; n < 8192; ++n) {
        sum += step_state_variable(c, state, n == 0 ? 1 : 0)
               * std::polar(1.0, -2 * std::numbers::pi * hz / svf_rate_hz * n);
    }
    return sum;
}

// The analog filters, at the frequency that the trapezoidal rule takes from there.
std::complex<double> analog(Response response, double hz) {
    const std::complex<double> s(0, std::tan(std::numbers::pi * hz / svf_rate_hz)
                                        / std::tan(std::numbers::pi * svf_hz / svf_rate_hz));
    const double d = 2 * (1 - svf_resonance), a = std::pow(10, svf_gain_db / 40), r = std::sqrt(a);
    const auto below = s * s + d * s + 1.0;
    switch (response) {
    case Response::low:
        return 1.0 / below;
    case Response::band:
        return d * s / below;
    case Response::high:
        return s * s / below;
    case Response::notch:
        return (s * s + 1.0) / below;
    case Response::peak:
        return (s * s + d * a * s + 1.0) / (s * s + d / a * s + 1.0);
    case Response::all_pass:
        return (s * s - d * s + 1.0) / below;
    case Response::low_shelf:
        return a * (s * s + d * r * s + a) / (a * s * s + d * r * s + 1.0);
    case Response::high_shelf:
        return a * (a * s * s + d * r * s + 1.0) / (s * s + d * r * s + a);
    }
    return 0;
}

TEST(StateVariable, IsTheAnalogFilter) {
    for (const Response response :
         {Response::low, Response::band, Response::high, Response::notch, Response::peak,
          Response::all_pass, Response::low_shelf, Response::high_shelf}) {
        for (const double hz : {30.0, 500.0, 1900.0, 2300.0, 9000.0, 20'000.0}) {
            EXPECT_LT(std::abs(measured(response, hz) - analog(response, hz)), 1e-9)
                << static_cast<int>(response) << " at " << hz;
        }
    }
}

// Without damping and input the energy of its states is kept, whatever the frequency does
// meanwhile.
TEST(StateVariable, UndampedKeepsItsEnergyUnderAnyChangeOfFrequency) {
    std::mt19937_64 random(5);
    std::uniform_real_distribution<double> share(0, 1);
    StateVariableState state{0.6, -0.8};
    for (int n = 0; n < 100'000; ++n) {
        const auto c = state_variable_coefficients(
            Response::low, 20 * std::pow(1000, share(random)), 1, 0, svf_rate_hz);
        step_state_variable(c, state, 0);
        ASSERT_NEAR(state.s1 * state.s1 + state.s2 * state.s2, 1, 1e-9) << n;
    }
}

TEST(StateVariable, DampedNeverGainsEnergyByItself) {
    std::mt19937_64 random(6);
    std::uniform_real_distribution<double> share(0, 1);
    StateVariableState state{1, 1};
    double last = 2;
    for (int n = 0; n < 10'000; ++n) { // to nothing at all, without a number too small on the way
        const auto c = state_variable_coefficients(
            Response::low, 20 * std::pow(1000, share(random)), share(random), 0, svf_rate_hz);
        step_state_variable(c, state, 0);
        const double energy = state.s1 * state.s1 + state.s2 * state.s2;
        ASSERT_LE(energy, last * (1 + 1e-12)) << n;
        ASSERT_TRUE(energy == 0 || energy > 1e-300) << n;
        last = energy;
    }
    EXPECT_EQ(last, 0);
}

} // namespace
} // namespace syntonon::modelled
