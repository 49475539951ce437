// Crossovers add up to what is said of them.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/crossover.h"

#include "core/base/units.h"
#include "tests/support/rate.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

CrossoverSpec crossover(CrossoverFamily family, int order, std::vector<double> hz) {
    CrossoverSpec spec;
    spec.family = family;
    spec.order = order;
    spec.frequencies_hz = std::move(hz);
    return spec;
}

Filter filter_of_one(CrossoverSpec spec, int way, const Axis& axis = rate) {
    spec.way = way;
    const auto made = design(spec, brief_at(axis), Watch());
    EXPECT_TRUE(made) << to_text(made.error());
    return made ? made->filter : Filter();
}

Complex value_at(const Filter& filter, double hz, const Axis& axis = rate) {
    return Probe(filter, axis).value(hz).h;
}

Complex sum_at(const CrossoverSpec& spec, double hz, const Axis& axis = rate) {
    Complex sum = 0;
    for (int way = 1; way <= ways_of(spec); ++way) {
        sum += value_at(filter_of_one(spec, way, axis), hz, axis);
    }
    return sum;
}

const std::vector<double> places = {1,    20,   90,   200,    350,    700,    1000,  1500,
                                    2500, 4000, 7000, 10'000, 14'000, 19'000, 23'900};

// In dB; the issue asks for 1e-10.
double least_flat_db(const CrossoverSpec& spec, const Axis& axis = rate) {
    double most = 0;
    for (const double hz : places) {
        most = std::max(most, std::abs(20 * std::log10(std::abs(sum_at(spec, hz, axis)))));
    }
    return most;
}

TEST(Crossover, LinkwitzRileySumsAreFlat) {
    for (const int order : {2, 4, 6, 8}) {
        const auto family = CrossoverFamily::linkwitz_riley;
        EXPECT_LT(least_flat_db(crossover(family, order, {1000})), 1e-10) << order;
        EXPECT_LT(least_flat_db(crossover(family, order, {300, 3000})), 1e-10) << order;
        EXPECT_LT(least_flat_db(crossover(family, order, {120, 900, 5000})), 1e-10) << order;
    }
}

TEST(Crossover, OddButterworthSumsAreFlat) {
    for (const int order : {1, 3, 5, 7}) {
        const auto family = CrossoverFamily::butterworth;
        EXPECT_LT(least_flat_db(crossover(family, order, {1000})), 1e-10) << order;
        EXPECT_LT(least_flat_db(crossover(family, order, {120, 900, 5000})), 1e-10) << order;
    }
}

TEST(Crossover, SumsAreFlatInTheSPlaneToo) {
    const Axis analog{rate, Domain::analog};
    EXPECT_LT(least_flat_db(crossover(CrossoverFamily::linkwitz_riley, 4, {300, 3000}), analog),
              1e-10);
    EXPECT_LT(least_flat_db(crossover(CrossoverFamily::butterworth, 3, {300, 3000}), analog),
              1e-10);
}

// Where they cross: a quarter of the power, in phase; half of it, in quadrature.
TEST(Crossover, WaysCrossWhereTheirFamilyHasIt) {
    for (const int order : {2, 4, 8}) {
        const auto spec = crossover(CrossoverFamily::linkwitz_riley, order, {2000});
        const Complex low = value_at(filter_of_one(spec, 1), 2000),
                      high = value_at(filter_of_one(spec, 2), 2000);
        EXPECT_NEAR(std::abs(low), 0.5, 1e-9);
        EXPECT_NEAR(std::abs(low - high), 0, 1e-9) << "in phase";
    }
    const auto spec = crossover(CrossoverFamily::butterworth, 3, {2000});
    const Complex low = value_at(filter_of_one(spec, 1), 2000),
                  high = value_at(filter_of_one(spec, 2), 2000);
    EXPECT_NEAR(std::abs(low), std::sqrt(0.5), 1e-9);
    EXPECT_NEAR((low * std::conj(high)).real(), 0, 1e-9) << "in quadrature";
}

// All-pass of first order (1 - s) / (1 + s) is what orders 2 (Linkwitz-Riley) and 3 (Butterworth)
// come to: a phase of -90 degrees where they cross, and of -180 at the end.
TEST(Crossover, PolarityIsThatOfTheAllPassOfTheLowerOrder) {
    for (const auto& spec : {crossover(CrossoverFamily::linkwitz_riley, 2, {2000}),
                             crossover(CrossoverFamily::butterworth, 3, {2000})}) {
        EXPECT_EQ(polarity_of(spec.family, spec.order), -1);
        EXPECT_NEAR(std::arg(sum_at(spec, 2000)), -pi / 2, 1e-9);
        EXPECT_NEAR(std::abs(std::arg(sum_at(spec, 23'999))), pi, 1e-3);
    }
    EXPECT_EQ(polarity_of(CrossoverFamily::linkwitz_riley, 4), 1);
    EXPECT_EQ(polarity_of(CrossoverFamily::butterworth, 1), 1);
    EXPECT_EQ(polarity_of(CrossoverFamily::butterworth, 5), 1);
    EXPECT_NEAR(std::abs(sum_at(crossover(CrossoverFamily::butterworth, 1, {2000}), 5000) - 1.0), 0,
                1e-12)
        << "first order adds up to its input";
}

TEST(Crossover, WithoutFillingThreeWaysAreNotFlat) {
    auto spec = crossover(CrossoverFamily::linkwitz_riley, 4, {500, 2000});
    spec.filled = false;
    EXPECT_GT(least_flat_db(spec), 0.1);
    EXPECT_EQ(filter_of_one(spec, 1).roots()->poles.size(), 4U);
    spec.filled = true;
    EXPECT_EQ(filter_of_one(spec, 1).roots()->poles.size(), 6U);
}

TEST(Crossover, ABesselSumIsTheLouderOne) {
    for (const int order : {1, 2, 3, 4, 6, 8}) {
        const auto spec = crossover(CrossoverFamily::bessel, order, {1000});
        const Complex low = value_at(filter_of_one(spec, 1), 1000),
                      high = value_at(filter_of_one(spec, 2), 1000);
        EXPECT_NEAR(std::abs(low), std::sqrt(0.5), 1e-6);
        EXPECT_GE(std::abs(low + high), std::abs(low - high) - 1e-9) << order;
    }
}

TEST(Crossover, LinearPhaseWaysAddUpToADelay) {
    auto spec = crossover(CrossoverFamily::linear_phase, 4, {300, 3000});
    spec.length = 801;
    const Complex once = value_at(filter_of_one(spec, 2), 1000);
    EXPECT_NEAR(std::abs(once), 1, 1e-3);
    for (const double hz : places) {
        const Complex delayed = std::polar(1.0, -2 * pi * hz / rate * 400);
        EXPECT_NEAR(std::abs(sum_at(spec, hz) - delayed), 0, 1e-11) << hz;
    }
    EXPECT_NEAR(std::abs(value_at(filter_of_one(spec, 3), 3000)), 0.5, 1e-3);
}

TEST(Crossover, SubtractiveWaysAddUpToTheirInputOrADelay) {
    auto spec = crossover(CrossoverFamily::subtractive, 4, {300, 3000});
    spec.delayed = false;
    for (const double hz : places) {
        EXPECT_NEAR(std::abs(sum_at(spec, hz) - 1.0), 0, 1e-11) << hz;
    }
    spec.delayed = true;
    const double samples = std::round(-std::arg(sum_at(spec, 1)) / (2 * pi * 1 / rate));
    EXPECT_GT(samples, 10);
    for (const double hz : places) {
        const Complex delayed = std::polar(1.0, -2 * pi * hz / rate * samples);
        EXPECT_NEAR(std::abs(sum_at(spec, hz) - delayed), 0, 1e-10) << hz;
    }
    const Filter high = filter_of_one(crossover(CrossoverFamily::subtractive, 4, {3000}), 2);
    EXPECT_LT(std::abs(value_at(high, 100)), 0.01) << "steeper than without the delay";
}

std::string refused_at(CrossoverSpec spec, const Axis& axis = rate) {
    const auto made = design(spec, brief_at(axis), Watch());
    return made ? "" : made.error().place;
}

TEST(Crossover, RefusesWhatIsNone) {
    using enum CrossoverFamily;
    EXPECT_EQ(refused_at(crossover(linkwitz_riley, 3, {1000})), "order");
    EXPECT_EQ(refused_at(crossover(butterworth, 4, {1000})), "order");
    EXPECT_EQ(refused_at(crossover(bessel, 17, {1000})), "order");
    EXPECT_EQ(refused_at(crossover(linkwitz_riley, 4, {})), "frequencies_hz");
    EXPECT_EQ(refused_at(crossover(linkwitz_riley, 4, {1, 2, 3, 4})), "frequencies_hz");
    EXPECT_EQ(refused_at(crossover(linkwitz_riley, 4, {1000, 1000})), "frequencies_hz[1]");
    EXPECT_EQ(refused_at(crossover(linkwitz_riley, 4, {24'000})), "frequencies_hz[0]");
    EXPECT_EQ(refused_at(crossover(linkwitz_riley, 4, {std::nan("")})), "frequencies_hz[0]");
    auto spec = crossover(linkwitz_riley, 4, {1000});
    spec.way = 3;
    EXPECT_EQ(refused_at(spec), "way");
    spec = crossover(linear_phase, 4, {1000});
    spec.length = 100;
    EXPECT_EQ(refused_at(spec), "length");
    EXPECT_EQ(refused_at(crossover(linear_phase, 4, {1000}), {rate, Domain::analog}), "family");
    EXPECT_EQ(refused_at(crossover(subtractive, 4, {1000}), {rate, Domain::analog}), "family");
}

TEST(Crossover, SaysWhatItIs) {
    auto spec = crossover(CrossoverFamily::linkwitz_riley, 4, {300, 2000});
    spec.way = 2;
    EXPECT_EQ(title_of(spec), "Mid 0.3–2 kHz");
    EXPECT_EQ(spoken_name_of(spec), "Crossover 0.3–2 kHz");
    EXPECT_EQ(summary_of(spec), "Linkwitz-Riley 4");
    EXPECT_EQ(way_name(2, 3), "Mid");
    EXPECT_EQ(way_name(2, 4), "Low mid");
    EXPECT_EQ(way_name(4, 4), "High");
    const Working working = design(spec, brief_at(rate), Watch())->working();
    EXPECT_EQ(working.marked_hz, spec.frequencies_hz);
    EXPECT_NE(working.method.find("all-pass"), std::string::npos);
}

} // namespace
} // namespace syntonon
