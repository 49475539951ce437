// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/fine_spectrum.h"

#include <gtest/gtest.h>
#include <numbers>
#include <random>

namespace syntonon {
namespace {

using Long = std::complex<long double>;

struct Sums {
    Long h, slope;
};

Sums direct_sum(const std::vector<double>& x, double hz, double rate) {
    Sums sums{};
    for (std::size_t n = 0; n < x.size(); ++n) {
        const long double turns = static_cast<long double>(n) * hz / rate;
        const long double angle =
            -2 * std::numbers::pi_v<long double> * (turns - std::floor(turns));
        const Long term = static_cast<long double>(x[n]) * Long(std::cos(angle), std::sin(angle));
        sums.h += term;
        sums.slope += Long(0, -static_cast<long double>(n)) * term;
    }
    return sums;
}

TEST(FineSpectrum, IsTheDirectSumAtAnyFrequency) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> value(-1, 1), place(0, 24000);
    for (const std::size_t length : {1u, 2u, 3u, 50u, 1001u, 4096u}) {
        std::vector<double> x(length);
        double size = 0;
        for (double& v : x) {
            v = value(random);
            size += std::abs(v);
        }
        const FineSpectrum spectrum(x);
        for (int i = 0; i < 40; ++i) {
            const double hz = i == 0 ? 0 : i == 1 ? 24000 : place(random);
            const auto at = spectrum.at(hz, 48000);
            const Sums sums = direct_sum(x, hz, 48000);
            EXPECT_NEAR(std::abs(Long(at.h) - sums.h), 0, 2e-14 * size) << length << " " << hz;
            EXPECT_NEAR(std::abs(Long(at.slope) - sums.slope), 0,
                        3e-14 * size * static_cast<double>(length + 32)); // at least 32 bins
        }
    }
}

TEST(FineSpectrum, GoesOnBeyondHalfTheRateAsItMust) {
    std::vector<double> x(54);
    for (std::size_t n = 0; n < x.size(); ++n) {
        x[n] = std::cos(0.3 * static_cast<double>(n * n));
    }
    const FineSpectrum spectrum(x);
    for (const double hz : {-1e9 - 77, -48000.0, -100.0, 24001.0, 47900.0, 48000.0, 1e6 + 7}) {
        const auto at = spectrum.at(hz, 48000);
        const Sums sums = direct_sum(x, hz, 48000);
        EXPECT_NEAR(std::abs(Long(at.h) - sums.h), 0, 1e-9) << hz;
        EXPECT_NEAR(std::abs(Long(at.slope) - sums.slope), 0, 1e-7) << hz;
    }
}

TEST(FineSpectrum, TurnsKeepTheirDigitsOverLongDelays) {
    // 1/3 of the rate: 262145 samples make 87381 turns and 2/3.
    EXPECT_NEAR(turns_of(16000, 262145, 48000), -1.0 / 3, 1e-15);
    // A frequency that is no round binary number.
    const double hz = 12345.678901;
    const long double exact = static_cast<long double>(hz) * 262143 / 48000;
    EXPECT_NEAR(turns_of(hz, 262143, 48000), static_cast<double>(exact - std::nearbyint(exact)),
                1e-14);
}

} // namespace
} // namespace syntonon
