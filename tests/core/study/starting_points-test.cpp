// Each starting point against the closed form of what it is.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/starting_points.h"

#include "core/base/units.h"
#include "core/study/designed_chain.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <functional>
#include <gtest/gtest.h>
#include <set>

namespace syntonon {
namespace {

using Complex = std::complex<double>;
constexpr double fs = 48000;

Filter filter_of(const std::string& title) {
    const auto all = starting_points();
    const auto found = std::ranges::find(all, title, &StartingPoint::title);
    EXPECT_NE(found, all.end()) << title;
    Chain chain;
    for (const auto& stage : found->stages) {
        Stage own = *stage;
        give_fresh_ids(own, chain);
        chain.emplace_back(std::move(own));
    }
    DesignStore store;
    Brief brief;
    brief.sample_rate_hz = fs;
    const DesignedChain designed = design_chain(chain, brief, store);
    EXPECT_TRUE(designed.problems.empty());
    return designed.filter;
}

// H(z) on the circle.
void expect_form(const std::string& title, const std::function<Complex(Complex z)>& form) {
    const Filter filter = filter_of(title);
    const Probe probe(filter, fs);
    for (const double hz : {20.0, 250.0, 999.0, 4000.0, 12345.0, 23000.0}) {
        const Complex z = std::polar(1.0, rad_per_sample_from_hz(hz, fs));
        const Complex wanted = form(z);
        EXPECT_NEAR(std::abs(probe.value(hz).h - wanted), 0, 1e-11 * (1 + std::abs(wanted)))
            << title << " at " << hz;
    }
    EXPECT_TRUE(filter.is_stable()) << title;
}

// The bilinear s of a first-order section with this corner: 1 at j where the corner is.
Complex s_of(Complex z, double corner_hz) {
    return (z - 1.0) / (z + 1.0) / std::tan(rad_per_sample_from_hz(corner_hz, fs) / 2);
}

Complex low_pass(Complex z, double corner_hz) {
    return 1.0 / (1.0 + s_of(z, corner_hz));
}

TEST(StartingPoints, AreWhatTheySay) {
    expect_form("Comb, fed forward", [](Complex z) { return 1.0 + 0.7 * std::pow(z, -96); });
    expect_form("Comb, fed back", [](Complex z) { return 1.0 / (1.0 - 0.7 * std::pow(z, -96)); });
    expect_form("Moving average", [](Complex z) {
        Complex sum = 0;
        for (int n = 0; n < 32; ++n) {
            sum += std::pow(0.9999 / z, n);
        }
        return sum / 32.0;
    });
    expect_form("Band-pass by subtraction",
                [](Complex z) { return low_pass(z, 4000) - low_pass(z, 250); });
    expect_form("All-pass from low and high", [](Complex z) {
        const Complex s = s_of(z, 1000);
        return (1.0 - s) / (1.0 + s);
    });
    expect_form("Complementary pair", [](Complex) { return Complex(1); });
    expect_form("Shelf from an all-pass", [](Complex z) {
        const Complex s = s_of(z, 1000), all_pass = (1.0 - s) / (1.0 + s);
        const double gain = ratio_from_db(6);
        return (1.0 + all_pass) / 2.0 + gain * (1.0 - all_pass) / 2.0;
    });
    expect_form("Phaser", [](Complex z) {
        const Complex s = s_of(z, 420), row = std::pow((1.0 - s) / (1.0 + s), 8);
        return 0.5 + 0.5 * row / (1.0 - 0.62 * row / z);
    });
    expect_form("Echo", [](Complex z) {
        const Complex late = std::pow(z, -14400);
        return 1.0 + 0.5 * late / (1.0 - 0.45 * late * low_pass(z, 4000));
    });
}

TEST(StartingPoints, NotchAndBellActAtTheirFrequency) {
    const Probe notch(filter_of("Notch from two paths"), fs);
    EXPECT_LT(notch.level_db(1000), -250);
    EXPECT_NEAR(notch.level_db(20), 0, 0.01);
    EXPECT_NEAR(notch.level_db(20000), 0, 0.01);
    const Probe bell(filter_of("Bell from an all-pass"), fs);
    EXPECT_NEAR(bell.level_db(1000), -6, 1e-9);
    EXPECT_NEAR(bell.level_db(20), 0, 0.01);
    EXPECT_NEAR(bell.level_db(24000), 0, 1e-9);
}

TEST(StartingPoints, HaveTitlesOfTheirOwn) {
    std::set<std::string> titles;
    for (const StartingPoint& point : starting_points()) {
        EXPECT_TRUE(titles.insert(point.title).second) << point.title;
        EXPECT_FALSE(point.words.empty());
    }
    EXPECT_EQ(titles.size(), 11u);
}

} // namespace
} // namespace syntonon
