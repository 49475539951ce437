// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/closed_forms.h"

#include "core/base/units.h"

#include <cmath>
#include <complex>
#include <gtest/gtest.h>
#include <numeric>

namespace syntonon {
namespace {

double gain(const std::vector<double>& taps, double cycles) {
    std::complex<double> h = 0;
    for (std::size_t n = 0; n < taps.size(); ++n) {
        h += taps[n] * std::polar(1.0, -2 * pi * cycles * double(n));
    }
    return std::abs(h);
}

double sum(const std::vector<double>& taps) {
    return std::accumulate(taps.begin(), taps.end(), 0.0);
}

TEST(RaisedCosine, IsZeroAtAllOtherSymbols) {
    for (const double roll_off : {0.0, 0.2, 0.5, 1.0}) {
        const auto taps = raised_cosine_taps(161, 8, roll_off);
        for (std::size_t k = 1; k <= 10; ++k) {
            EXPECT_NEAR(taps[80 + 8 * k], 0, 1e-12) << roll_off << " " << k;
        }
        EXPECT_NEAR(sum(taps), 1, 1e-14);
        // Half the gain at half the symbol rate, whatever the roll-off.
        EXPECT_NEAR(gain(taps, 0.5 / 8), 0.5, roll_off == 0 ? 0.02 : 1e-3);
    }
}

// 1/T sinc cos / (1 - 4 r^2 t^2) at t = 1 / (2 r): pi/4 sinc(1 / (2 r)).
TEST(RaisedCosine, ItsPoleIsALimit) {
    const auto taps = raised_cosine_taps(81, 8, 0.5); // the pole is at t = 1: a tap
    EXPECT_NEAR(taps[48] / taps[40], pi / 4 * std::sin(pi) / pi, 1e-12);
    const auto wide = raised_cosine_taps(81, 8, 1); // at t = 1/2
    EXPECT_NEAR(wide[44] / wide[40], pi / 4 * 2 / pi, 1e-12);
}

TEST(RootRaisedCosine, TwiceIsARaisedCosine) {
    const auto root = root_raised_cosine_taps(321, 8, 0.4);
    std::vector<double> twice(641, 0.0);
    for (std::size_t n = 0; n < 321; ++n) {
        for (std::size_t m = 0; m < 321; ++m) {
            twice[n + m] += root[n] * root[m];
        }
    }
    const auto whole = raised_cosine_taps(641, 8, 0.4);
    for (std::size_t n = 200; n < 441; ++n) {
        EXPECT_NEAR(twice[n], whole[n], 2e-5) << n;
    }
    // At t = 1 / (4 r): r / sqrt 2 ((1 + 2/pi) sin(pi / 4r) + (1 - 2/pi) cos(pi / 4r)).
    const double r = 0.25, edge = pi / (4 * r);
    const auto taps = root_raised_cosine_taps(81, 8, r);
    const double wanted =
        r / std::sqrt(2.0) * ((1 + 2 / pi) * std::sin(edge) + (1 - 2 / pi) * std::cos(edge));
    EXPECT_NEAR(taps[48] / taps[40], wanted / (1 - r + 4 * r / pi), 1e-12);
}

TEST(GaussianPulse, HalvesThePowerAtItsBandwidth) {
    const auto taps = gaussian_pulse_taps(201, 16, 0.3);
    EXPECT_NEAR(sum(taps), 1, 1e-14);
    EXPECT_NEAR(gain(taps, 0.3 / 16), std::sqrt(0.5), 1e-9);
}

TEST(GaussianPulse, ThatIsShortAndOfEvenLengthIsItsTwoMiddleTaps) {
    const auto taps = gaussian_pulse_taps(66, 5, 100);
    for (std::size_t n = 0; n < taps.size(); ++n) {
        EXPECT_EQ(taps[n], n == 32 || n == 33 ? 0.5 : 0) << n;
    }
}

TEST(MovingAverage, IsBinomialForPairs) {
    EXPECT_EQ(moving_average_taps(2, 4),
              (std::vector{1.0 / 16, 4.0 / 16, 6.0 / 16, 4.0 / 16, 1.0 / 16}));
    EXPECT_EQ(moving_average_taps(1, 5), std::vector{1.0});
    const auto taps = moving_average_taps(7, 3);
    ASSERT_EQ(taps.size(), 19u);
    EXPECT_NEAR(taps[0], 1 / 343.0, 1e-18);
    EXPECT_NEAR(taps[9], 37 / 343.0, 1e-16);
    EXPECT_NEAR(sum(taps), 1, 1e-15);
    for (int k = 1; k <= 3; ++k) {
        EXPECT_NEAR(gain(taps, k / 7.0), 0, 1e-15);
    }
    EXPECT_NEAR(sum(moving_average_taps(63, 12)), 1, 1e-13);
}

// A. Savitzky and M. J. E. Golay, 1964, tables I, V and VIII (as corrected by J. Steinier, Y.
// Termonia and J. Deltour, Analytical Chemistry 44, 1972).
TEST(SavitzkyGolay, IsTheTables) {
    const auto expect = [](const std::vector<double>& taps, std::vector<double> wanted,
                           double over) {
        ASSERT_EQ(taps.size(), wanted.size());
        for (std::size_t n = 0; n < taps.size(); ++n) {
            EXPECT_NEAR(taps[n], wanted[n] / over, 1e-14);
        }
    };
    expect(savitzky_golay_taps(5, 2, 0), {-3, 12, 17, 12, -3}, 35);
    expect(savitzky_golay_taps(7, 3, 0), {-2, 3, 6, 7, 6, 3, -2}, 21);
    expect(savitzky_golay_taps(9, 4, 0), {15, -55, 30, 135, 179, 135, 30, -55, 15}, 429);
    // A slope: the newest sample is the first tap.
    expect(savitzky_golay_taps(5, 2, 1), {2, 1, 0, -1, -2}, 10);
    expect(savitzky_golay_taps(5, 2, 2), {2, -1, -2, -1, 2}, 7);
}

TEST(SavitzkyGolay, KeepsPolynomialsOfItsDegree) {
    for (const std::size_t length : {6u, 31u, 1001u}) {
        for (const int derivative : {0, 1, 3}) {
            const auto taps = savitzky_golay_taps(length, 5, derivative);
            const double middle = (double(length) - 1) / 2, unit = middle;
            // x(n) = (n / unit)^5 + (n / unit)^3, seen at -middle + 0.25 unit from the last sample.
            const auto signal = [&](double n) {
                const double x = n / unit;
                return std::pow(x, 5) + std::pow(x, 3);
            };
            const double at = 0.25 * unit, x = 0.25;
            double seen = 0;
            for (std::size_t n = 0; n < length; ++n) {
                seen += taps[n] * signal(at + middle - double(n));
            }
            const double wanted = derivative == 0   ? std::pow(x, 5) + std::pow(x, 3)
                                  : derivative == 1 ? (5 * std::pow(x, 4) + 3 * x * x) / unit
                                                    : (60 * x * x + 6) / std::pow(unit, 3);
            EXPECT_NEAR(seen / wanted, 1, 1e-9) << length << " " << derivative;
        }
    }
}

} // namespace
} // namespace syntonon
