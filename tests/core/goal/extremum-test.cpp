// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/extremum.h"

#include <cmath>
#include <gtest/gtest.h>
#include <limits>

namespace syntonon {
namespace {

Extremum greatest_of(const Function& f, double low, double high, int points) {
    std::vector<double> hz, values;
    for (int i = 0; i < points; ++i) {
        hz.push_back(low + (high - low) * i / (points - 1));
        values.push_back(f(hz.back()));
    }
    return greatest(f, hz, values);
}

TEST(Extremum, IsFoundBetweenSamples) {
    const Extremum found =
        greatest_of([](double x) { return 3 - std::pow(x - 123.456, 2) / 100; }, 100, 200, 11);
    EXPECT_NEAR(found.value, 3, 1e-9);
    EXPECT_NEAR(found.hz, 123.456, 1e-3);
}

TEST(Extremum, IsFoundAtTheEndsAndAtCorners) {
    EXPECT_EQ(greatest_of([](double x) { return x; }, 1, 2, 5).hz, 2);
    EXPECT_EQ(greatest_of([](double x) { return -x; }, 1, 2, 5).hz, 1);
    EXPECT_NEAR(greatest_of([](double x) { return -std::abs(x - 1.5); }, 1, 2, 5).value, 0, 1e-12);
}

TEST(Extremum, TheHigherOfTwoHumpsWinsThoughItsSampleIsLower) {
    // Sampled at whole numbers: 10 sits on the first hump's top (1.0), 20 and 21 on the flanks of
    // the second (its top 1.02 lies at 20.5).
    const auto hump = [](double x, double at, double top) {
        return top - std::pow(x - at, 2) * 0.1;
    };
    const Function f = [&](double x) { return std::max(hump(x, 10, 1.0), hump(x, 20.5, 1.02)); };
    const Extremum found = greatest_of(f, 0, 30, 31);
    EXPECT_NEAR(found.value, 1.02, 1e-9);
    EXPECT_NEAR(found.hz, 20.5, 1e-3);
}

TEST(Extremum, InfinitiesAreNoObstacle) {
    const double infinity = std::numeric_limits<double>::infinity();
    const Function f = [&](double x) { return x < 5 ? -infinity : -std::pow(x - 7.3, 2); };
    EXPECT_NEAR(greatest_of(f, 0, 10, 11).value, 0, 1e-9);
    EXPECT_EQ(greatest_of([&](double) { return -infinity; }, 0, 10, 11).value, -infinity);
}

} // namespace
} // namespace syntonon
