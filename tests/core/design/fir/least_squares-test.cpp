// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/least_squares.h"

#include "core/base/units.h"
#include "core/design/design.h"
#include "core/math/fine_spectrum.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

const Amplitude low_pass_bands{{{0, 0.2 * pi, 1, 1}, 1}, {{0.3 * pi, pi, 0, 0}, 10}};

// The integral of weight |H - D|^2 by Simpson's rule.
double squared_error(const std::vector<double>& taps, const Amplitude& wanted, bool is_odd,
                     double delay) {
    constexpr int steps = 4000;
    double sum = 0;
    for (const AmplitudePiece& piece : wanted) {
        const double h = (piece.gain.to - piece.gain.from) / steps;
        for (int k = 0; k <= steps; ++k) {
            const double w = std::lerp(piece.gain.from, piece.gain.to, double(k) / steps);
            Complex value = 0;
            for (std::size_t n = 0; n < taps.size(); ++n) {
                value += taps[n] * std::polar(1.0, -w * double(n));
            }
            const Complex aim = piece.gain.at(w) * std::polar(1.0, -w * delay)
                                * (is_odd ? Complex(0, 1) : Complex(1, 0));
            sum += (k == 0 || k == steps ? 1
                    : k % 2 == 1         ? 4
                                         : 2)
                   * h / 3 * piece.weight * std::norm(value - aim);
        }
    }
    return sum;
}

// No tap moved a little makes it smaller.
void expect_least(const std::vector<double>& taps, const Amplitude& wanted, bool is_odd,
                  double delay) {
    const double least = squared_error(taps, wanted, is_odd, delay);
    for (std::size_t n = 0; n < taps.size(); n += 3) {
        for (const double step : {-1e-4, 1e-4}) {
            auto moved = taps;
            moved[n] += step;
            EXPECT_GT(squared_error(moved, wanted, is_odd, delay), least) << n;
        }
    }
}

TEST(LeastSquares, NothingNearIsBetter) {
    const Amplitude hilbert{{{0.1 * pi, 0.9 * pi, 1, 1}, 1}};
    const Amplitude differentiator{{{0, 0.8 * pi, 0, 0.8 * pi}, 1}};
    const struct {
        std::size_t length;
        const Amplitude& wanted;
        bool is_odd;
        double delay;
    } all[] = {{31, low_pass_bands, false, 15},
               {30, low_pass_bands, false, 14.5},
               {31, hilbert, true, 15},
               {30, differentiator, true, 14.5},
               {31, low_pass_bands, false, 10.3}};
    for (const auto& [length, wanted, is_odd, delay] : all) {
        const auto made = least_squares(length, wanted, is_odd, delay, Watch());
        ASSERT_TRUE(made);
        expect_least(made->taps, wanted, is_odd, delay);
        if (2 * delay == double(length - 1)) {
            for (std::size_t n = 0; n < length; ++n) {
                EXPECT_EQ(made->taps[n], (is_odd ? -1 : 1) * made->taps[length - 1 - n]);
            }
        }
    }
}

// Over all frequencies, without gaps, it is the ideal impulse response, cut off.
TEST(LeastSquares, WithoutGapsItIsTheIdealOneCutOff) {
    const Amplitude whole{{{0, pi / 2, 1, 1}, 1}, {{pi / 2, pi, 0, 0}, 1}};
    const auto made = least_squares(21, whole, false, 10, Watch());
    ASSERT_TRUE(made);
    for (std::size_t n = 0; n < 21; ++n) {
        const double t = double(n) - 10;
        EXPECT_NEAR(made->taps[n], t == 0 ? 0.5 : std::sin(pi / 2 * t) / (pi * t), 1e-13);
    }
    EXPECT_NEAR(made->condition, 1, 1e-6);
}

TEST(LeastSquares, ADelayOfItsOwnIsKeptInThePassband) {
    const auto made = least_squares(61, {{{0, 0.25 * pi, 1, 1}, 1}, {{0.38 * pi, pi, 0, 0}, 1}},
                                    false, 21.4, Watch());
    ASSERT_TRUE(made);
    const FineSpectrum spectrum(made->taps);
    for (double w = 0; w < 0.22 * pi; w += 0.01) {
        const auto value = spectrum.at(w, 2 * pi);
        EXPECT_NEAR(-(value.slope / value.h).imag(), 21.4, 0.1) << w;
    }
}

TEST(LeastSquares, StopsWhenAsked) {
    const Watch watch;
    watch.stop();
    EXPECT_EQ(least_squares(200, low_pass_bands, false, 99.5, watch).error(), stopped().value());
}

} // namespace
} // namespace syntonon
