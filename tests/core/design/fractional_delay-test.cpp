// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fractional_delay.h"

#include "core/base/units.h"
#include "core/design/delay.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

constexpr double fs = 48000;

Filter made(Interpolation interpolation, int order, double samples) {
    auto filter = fractional_delay(interpolation, order, samples);
    EXPECT_TRUE(filter) << to_text(filter.error());
    return filter.value_or(Filter());
}

double phase_delay(const Filter& filter, double hz, double expected) {
    const double w = rad_per_sample_from_hz(hz, fs);
    const double off = std::remainder(Probe(filter, fs).phase_rad(hz) + w * expected, 2 * pi);
    return expected - off / w;
}

TEST(FractionalDelay, APolynomialOfTheOrderIsDelayedExactly) {
    for (const int order : {1, 2, 3, 4, 7}) {
        for (const double by : {order / 2.0 + 0.3, order + 11.62}) {
            const Filter filter = made(Interpolation::lagrange, order, by);
            std::vector<double> signal(60);
            const auto value = [&](double n) { return std::pow((n - 30) / 10, order); };
            for (std::size_t n = 0; n < signal.size(); ++n) {
                signal[n] = value(static_cast<double>(n));
            }
            filter.run(signal);
            for (std::size_t n = 30; n < signal.size(); ++n) {
                EXPECT_NEAR(signal[n], value(static_cast<double>(n) - by), 1e-9)
                    << "order " << order << " by " << by;
            }
        }
    }
}

TEST(FractionalDelay, AnAllPassPassesAllAndIsFlattestAtZero) {
    // Order 1 by the closed form: a1 = (1 - d) / (1 + d).
    const Filter first = made(Interpolation::all_pass, 1, 0.3);
    EXPECT_NEAR(first.impulse_response(1)[0], 0.7 / 1.3, 1e-15);
    for (const int order : {1, 2, 3, 5, 8, 16}) {
        for (const double by : {order - 0.4, order + 0.25, order + 40.5, order + 3.0}) {
            const Filter filter = made(Interpolation::all_pass, order, by);
            EXPECT_TRUE(filter.is_stable()) << order << " " << by;
            const Probe probe(filter, fs);
            for (const double hz : {100.0, 5000.0, 12000.0, 20000.0}) {
                EXPECT_NEAR(probe.level_db(hz), 0, 1e-9);
            }
            EXPECT_NEAR(probe.group_delay_samples(10), by, 1e-6) << order;
            EXPECT_NEAR(phase_delay(filter, 2000, by), by, order > 1 ? 1e-3 : 0.03);
        }
    }
}

TEST(FractionalDelay, AWindowedSincIsGoodFarUp) {
    for (const double by : {15.5, 16.0, 16.31, 300.9}) {
        const Filter filter = made(Interpolation::windowed_sinc, 31, by);
        const Probe probe(filter, fs);
        EXPECT_NEAR(probe.level_db(0), 0, 1e-12) << "of sum 1";
        for (double hz = 500; hz < 19000; hz += 500) {
            EXPECT_NEAR(probe.level_db(hz), 0, 0.02) << by << " " << hz;
            EXPECT_NEAR(phase_delay(filter, hz, by), by, 0.01) << by << " " << hz;
        }
    }
}

TEST(FractionalDelay, WorksCentred) {
    // 12.4 by order 3: whole samples, and an interpolator that delays by 1 to 2.
    const auto taps = made(Interpolation::lagrange, 3, 12.4).impulse_response(20);
    EXPECT_EQ(taps[10], 0);
    EXPECT_NE(taps[11], 0);
    EXPECT_NE(taps[14], 0);
    EXPECT_EQ(taps[15], 0);
    // A whole delay is exact.
    const auto whole = made(Interpolation::lagrange, 4, 9).impulse_response(20);
    EXPECT_NEAR(whole[9], 1, 1e-15);
    EXPECT_NEAR(whole[8], 0, 1e-15);
}

TEST(FractionalDelay, RefusesWhatTheInterpolationCannotDo) {
    Brief brief;
    brief.sample_rate_hz = fs;
    const auto refused = [&](double samples, Interpolation interpolation, int order) {
        const DelaySpec spec{DelayUnit::samples, samples, 343, interpolation, order};
        const auto design = syntonon::design(spec, brief, {});
        return design ? std::string() : to_text(design.error());
    };
    EXPECT_EQ(refused(0.9, Interpolation::lagrange, 3),
              "samples: 0.9 samples are less than this interpolation's own delay; ask for at least "
              "1 samples or lower the order");
    EXPECT_EQ(refused(1, Interpolation::lagrange, 3), "");
    EXPECT_NE(refused(2, Interpolation::all_pass, 3), "") << "on the circle";
    EXPECT_EQ(refused(2.1, Interpolation::all_pass, 3), "");
    EXPECT_NE(refused(100, Interpolation::lagrange, 65), "");
    EXPECT_NE(refused(100, Interpolation::windowed_sinc, 0), "");
    EXPECT_EQ(refused(0.2, Interpolation::none, 3), "") << "the nearest whole number";
}

} // namespace
} // namespace syntonon
