// Classical filters: what was asked for at the edges, order formulas, mappings, sections. What is
// refused stands in classical_refusals-test.cpp.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/classical.h"

#include "core/base/units.h"
#include "core/design/classical_plan.h"
#include "core/filter/form.h"
#include "tests/support/classical_designs.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <gtest/gtest.h>
#include <numeric>

namespace syntonon {
namespace {

using Family = ClassicalFamily;
using Band = ClassicalBand;

double wanted_at_edge_db(const ClassicalSpec& spec) {
    switch (spec.family) {
    case Family::chebyshev:
    case Family::elliptic:
        return -spec.pass_ripple_db;
    case Family::inverse_chebyshev:
        return -spec.stop_attenuation_db;
    case Family::linkwitz_riley:
        return db_from_ratio(0.5);
    default:
        return db_from_power(0.5);
    }
}

bool exists(const ClassicalSpec& spec) {
    return spec.family != Family::linkwitz_riley
           || (spec.order % 2 == 0 && !has_two_edges(spec.band));
}

// The greatest miss of all families at an order, over edges from 20 Hz to 0.49 of the rate.
double greatest_miss_db(int order, const std::vector<Family>& families) {
    double worst = 0;
    for (const Family family : families) {
        for (const auto& band : names_of_bands()) {
            for (const double hz : {20.0, 90.0, 1000.0, 9000.0, 0.49 * rate}) {
                const bool is_top = has_two_edges(band.value) && hz > 20000;
                ClassicalSpec spec =
                    is_top ? by_order(family, band.value, order, 0.3 * rate, hz)
                           : by_order(family, band.value, order, hz, std::min(2 * hz, 0.49 * rate));
                if (!exists(spec)) {
                    continue;
                }
                const auto made = designed(spec);
                EXPECT_TRUE(made) << title_of(spec) << " " << order << " " << hz << ": "
                                  << to_text(made.error());
                if (!made) {
                    continue;
                }
                EXPECT_TRUE(made->filter.is_stable());
                for (std::size_t i = 0; i < (has_two_edges(spec.band) ? 2U : 1U); ++i) {
                    worst = std::max(worst, std::abs(level_db(*made, spec.edges_hz[i])
                                                     - wanted_at_edge_db(spec)));
                }
            }
        }
    }
    return worst;
}

std::vector<Family> all_families() {
    std::vector<Family> all;
    for (const auto& family : names_of_families()) {
        all.push_back(family.value);
    }
    return all;
}

TEST(Classical, MeetsItsEdgesTo1e9DecibelsUpToOrder12) {
    for (const int order : {1, 2, 3, 4, 7, 12}) {
        const double miss = greatest_miss_db(order, all_families());
        EXPECT_LE(miss, 1e-9) << order;
        RecordProperty("order_" + std::to_string(order), fmt::format("{:.2g} dB", miss));
    }
}

TEST(Classical, MeetsItsEdgesAtHighOrders) {
    const double of_20 = greatest_miss_db(20, all_families());
    EXPECT_LE(of_20, 2e-8);
    RecordProperty("order_20", fmt::format("{:.2g} dB", of_20));
    // Poles of elliptic filters crowd at the edge closer than doubles tell them apart.
    std::vector<Family> others = all_families();
    std::erase(others, Family::elliptic);
    RecordProperty("order_20_without_elliptic",
                   fmt::format("{:.2g} dB", greatest_miss_db(20, others)));
    const double of_50 = greatest_miss_db(50, others);
    EXPECT_LE(of_50, 1e-6);
    RecordProperty("order_50_without_elliptic", fmt::format("{:.2g} dB", of_50));
}

TEST(Classical, IsExactInContinuousTime) {
    const Axis analog(rate, Domain::analog);
    for (const auto& family : names_of_families()) {
        for (const auto& band : names_of_bands()) {
            for (const double hz : {20.0, 3000.0, 500000.0}) {
                const ClassicalSpec spec = by_order(family.value, band.value, 20, hz, 2.5 * hz);
                if (!exists(spec)) {
                    continue;
                }
                const auto made = designed(spec, analog);
                ASSERT_TRUE(made) << to_text(made.error());
                EXPECT_TRUE(made->filter.is_analog() && made->filter.is_stable());
                EXPECT_NEAR(level_db(*made, hz, analog), wanted_at_edge_db(spec), 1e-9)
                    << title_of(spec);
            }
        }
    }
}

// A. V. Oppenheim and R. W. Schafer, Discrete-Time Signal Processing, 3rd ed., example 7.3: 0.89125
// up to 0.2 pi, 0.17783 from 0.3 pi with the bilinear transform takes order 6 (5.305 unrounded).
TEST(Classical, FindsTheTextbooksOrder) {
    Tolerances t;
    t.pass_edges_hz = {0.1, 0};
    t.stop_edges_hz = {0.15, 0};
    t.pass_as_ratio = t.stop_as_ratio = true;
    t.pass_ratio = {0.89125, 1};
    t.stop_ratio = 0.17783;
    const auto plan = plan_of(by_tolerances(Family::butterworth, Band::low_pass, t), Axis(1));
    ASSERT_TRUE(plan) << to_text(plan.error());
    EXPECT_EQ(plan->order, 6);
    EXPECT_NEAR(*plan->found->unrounded, 5.305, 1e-3);
    ClassicalSpec invariant = by_tolerances(Family::butterworth, Band::low_pass, t);
    invariant.mapping = PlaneMapping::impulse_invariant; // the same, example 7.2: 5.8858, 0.7032
    invariant.better = Better::attenuation;
    const auto other = plan_of(invariant, Axis(1));
    EXPECT_NEAR(*other->found->unrounded, 5.8858, 5e-4);
    EXPECT_NEAR(other->edges_rad_per_s[0], 0.7032, 5e-4);
}

// The same, example 7.2: the denominators to the digits printed there.
TEST(Classical, HasTheTextbooksDenominators) {
    ClassicalSpec spec;
    spec.by_tolerances = true;
    spec.mapping = PlaneMapping::impulse_invariant;
    spec.tolerances.pass_edges_hz[0] = 0.1;
    spec.tolerances.stop_edges_hz[0] = 0.15;
    spec.tolerances.pass_as_ratio = spec.tolerances.stop_as_ratio = true;
    spec.tolerances.pass_ratio = {0.89125, 1};
    spec.tolerances.stop_ratio = 0.17783;
    const auto made = designed(spec, Axis(1));
    ASSERT_TRUE(made) << to_text(made.error());
    const auto& sections = std::get<Cascade>(made->filter.form()).sections;
    ASSERT_EQ(sections.size(), 3);
    const std::vector<std::array<double, 2>> printed{
        {-0.9972, 0.2570}, {-1.0691, 0.3699}, {-1.2971, 0.6949}};
    for (std::size_t i = 0; i < printed.size(); ++i) {
        EXPECT_NEAR(sections[i].a1, printed[i][0], 1.1e-4);
        EXPECT_NEAR(sections[i].a2, printed[i][1], 1.1e-4);
    }
}

// The same, section 7.3.1: within 0.01 of 1 up to 0.4 pi, 0.001 from 0.6 pi.
TEST(Classical, FamiliesTakeTheOrdersThatTheTextbookCompares) {
    Tolerances t;
    t.pass_edges_hz = {0.2, 0};
    t.stop_edges_hz = {0.3, 0};
    t.pass_as_ratio = t.stop_as_ratio = true;
    t.pass_ratio = {0.99, 1.01};
    t.stop_ratio = 0.001;
    for (const auto& [family, order] : {std::pair{Family::butterworth, 14},
                                        {Family::chebyshev, 8},
                                        {Family::inverse_chebyshev, 8},
                                        {Family::elliptic, 6}}) {
        const auto plan = plan_of(by_tolerances(family, Band::low_pass, t), Axis(1));
        ASSERT_TRUE(plan);
        EXPECT_EQ(plan->order, order) << title_of(family);
    }
}

TEST(Classical, AnAnalogButterworthOfOrder14IsWhatTheFormulaSays) {
    Tolerances t;
    t.pass_edges_hz = {1000, 0};
    t.stop_edges_hz = {1600, 0};
    t.pass_as_ratio = t.stop_as_ratio = true;
    t.pass_ratio = {0.99, 1.02};
    t.stop_ratio = 0.01;
    const auto plan =
        plan_of(by_tolerances(Family::butterworth, Band::low_pass, t), {rate, Domain::analog});
    ASSERT_TRUE(plan);
    EXPECT_NEAR(*plan->found->unrounded, 13.9437, 5e-5);
    EXPECT_EQ(plan->order, 14);
    EXPECT_NE(binding_side(t), "");
}

// Whatever is made better, the tolerances hold, and what is not to be better is met exactly.
TEST(Classical, KeepsItsTolerancesHoweverTheRestIsSpent) {
    for (const auto& family : names_of_families()) {
        for (const auto& band : names_of_bands()) {
            for (const auto& better : names_of_betters()) {
                if (family.value == Family::linkwitz_riley && has_two_edges(band.value)) {
                    continue;
                }
                ClassicalSpec spec =
                    by_tolerances(family.value, band.value, tolerances_for(band.value));
                spec.better = better.value;
                const auto made = designed(spec);
                const bool too_slow = family.value == Family::bessel
                                      || family.value == Family::gaussian
                                      || family.value == Family::synchronous;
                if (!made && too_slow) {
                    EXPECT_EQ(made.error().place, "spec");
                    continue;
                }
                ASSERT_TRUE(made) << title_of(spec) << ": " << to_text(made.error());
                const std::size_t edges = has_two_edges(band.value) ? 2 : 1;
                double least_pass = infinity, most_stop = -infinity;
                for (std::size_t i = 0; i < edges; ++i) {
                    least_pass =
                        std::min(least_pass, level_db(*made, spec.tolerances.pass_edges_hz[i]));
                    most_stop =
                        std::max(most_stop, level_db(*made, spec.tolerances.stop_edges_hz[i]));
                }
                const std::string name = fmt::format("{} better {}", title_of(spec), better.key);
                EXPECT_GE(least_pass, -0.7 - 1e-8) << name;
                EXPECT_LE(most_stop, -47 + 1e-8) << name;
                if (better.value == Better::attenuation) {
                    EXPECT_NEAR(least_pass, -0.7, 1e-8) << name;
                } else if (better.value == Better::ripple) {
                    EXPECT_NEAR(most_stop, -47, 1e-8) << name;
                }
            }
        }
    }
}

TEST(Classical, TheRestMakesBetterWhatWasChosen) {
    const auto with = [&](Better better) {
        ClassicalSpec spec =
            by_tolerances(Family::elliptic, Band::low_pass, tolerances_for(Band::low_pass));
        spec.better = better;
        return *plan_of(spec, Axis(rate));
    };
    EXPECT_LT(with(Better::ripple).pass_ripple_db, 0.7);
    EXPECT_EQ(with(Better::ripple).stop_attenuation_db, 47);
    EXPECT_GT(with(Better::attenuation).stop_attenuation_db, 47);
    EXPECT_EQ(with(Better::attenuation).pass_ripple_db, 0.7);
    EXPECT_GT(with(Better::pass_edge).edges_rad_per_s[0],
              with(Better::stop_edge).edges_rad_per_s[0]);
}

// The bilinear transform takes H(s) as it is to the warped frequencies.
TEST(Classical, TheBilinearTransformOnlyWarps) {
    const Axis analog(rate, Domain::analog);
    ClassicalSpec spec = by_order(Family::elliptic, Band::band_pass, 5, 3000, 7000);
    const auto sampled = designed(spec);
    for (double& hz : spec.edges_hz) {
        hz = hz_from_rad_per_s(2 * rate * std::tan(pi * hz / rate));
    }
    const auto continuous = designed(spec, analog);
    for (double hz = 100; hz < 23000; hz *= 1.13) {
        const double warped = hz_from_rad_per_s(2 * rate * std::tan(pi * hz / rate));
        const ResponsePoint a = sampled->filter.response_at(hz, rate),
                            b = continuous->filter.response_at(warped, analog);
        EXPECT_NEAR(a.magnitude_db, b.magnitude_db, 1e-7) << hz;
        EXPECT_NEAR(std::remainder(a.phase_rad - b.phase_rad, 2 * pi), 0, 1e-8) << hz;
    }
}

// T h(n T) of a pole pair and a real pole, by their partial fractions.
TEST(Classical, ImpulseInvarianceSamplesTheImpulseResponse) {
    ClassicalSpec spec = by_order(Family::butterworth, Band::low_pass, 3, 2000);
    spec.mapping = PlaneMapping::impulse_invariant;
    const auto made = designed(spec);
    ASSERT_TRUE(made) << to_text(made.error());
    const auto h = made->filter.impulse_response(60);
    // H = 1/((s + 1)(s^2 + s + 1)) at w = 1: h = e^-t - e^(-t/2) (cos bt - sin(bt)/(2b)), b =
    // sqrt(3)/2
    const double w = 2 * pi * 2000, b = std::sqrt(3.0) / 2;
    for (std::size_t n = 0; n < h.size(); ++n) {
        const double t = w * static_cast<double>(n) / rate;
        const double wanted =
            std::exp(-t) - std::exp(-t / 2) * (std::cos(b * t) - std::sin(b * t) / (2 * b));
        EXPECT_NEAR(h[n], w / rate * wanted, 1e-13) << n;
    }
}

// Of a first-order low-pass the response jumps: half of it at n = 0, so that H(e^jw) is the sum of
// all aliases.
TEST(Classical, ImpulseInvarianceTakesHalfOfAJump) {
    ClassicalSpec spec = by_order(Family::butterworth, Band::low_pass, 1, 2000);
    spec.mapping = PlaneMapping::impulse_invariant;
    const auto h = designed(spec)->filter.impulse_response(20);
    const double w = 2 * pi * 2000;
    for (std::size_t n = 0; n < h.size(); ++n) {
        EXPECT_NEAR(h[n],
                    w / rate * std::exp(-w * static_cast<double>(n) / rate) / (n == 0 ? 2 : 1),
                    1e-15);
    }
}

TEST(Classical, ImpulseInvarianceKeepsItsDigitsAtHighOrders) {
    const Axis analog(rate, Domain::analog);
    for (const Family family : {Family::butterworth, Family::synchronous, Family::chebyshev}) {
        ClassicalSpec spec = by_order(family, Band::low_pass, 16, 1000);
        spec.mapping = PlaneMapping::impulse_invariant;
        const auto made = designed(spec), continuous = designed(spec, analog);
        ASSERT_TRUE(made) << to_text(made.error());
        // So low that aliases are below rounding.
        for (const double hz : {20.0, 500.0, 900.0, 1000.0, 2000.0}) {
            EXPECT_NEAR(level_db(*made, hz), level_db(*continuous, hz, analog), 1e-7) << hz;
        }
    }
}

TEST(Classical, MatchedRootsAreThoseOfThePlane) {
    const Axis analog(rate, Domain::analog);
    ClassicalSpec spec = by_order(Family::elliptic, Band::high_pass, 4, 3000);
    const auto continuous = designed(spec, analog);
    spec.mapping = PlaneMapping::matched;
    const auto made = designed(spec);
    auto wanted = continuous->filter.roots()->poles;
    auto found = made->filter.roots()->poles;
    ASSERT_EQ(found.size(), wanted.size());
    for (const auto& pole : wanted) {
        const auto z = std::exp(pole / rate);
        EXPECT_LT(std::abs(*std::ranges::min_element(found, {},
                                                     [&](const auto& p) { return std::abs(p - z); })
                           - z),
                  1e-14);
    }
    EXPECT_NEAR(level_db(*made, rate / 2), level_db(*continuous, rate / 2, analog), 1e-9)
        << "the gain is kept at half the rate";
}

TEST(Classical, SectionsAreTheSameFilterInAnyOrder) {
    for (const auto& pairing : names_of_pairings()) {
        for (const auto& order : names_of_section_orders()) {
            for (const auto& gain : names_of_section_gains()) {
                ClassicalSpec spec = by_order(Family::elliptic, Band::low_pass, 9, 4000);
                const auto usual = designed(spec);
                spec.sections = {pairing.value, order.value, gain.value};
                const auto made = designed(spec);
                for (const double hz : {0.0, 1000.0, 3900.0, 4000.0, 12000.0}) {
                    EXPECT_NEAR(level_db(*made, hz), level_db(*usual, hz), 2e-9);
                }
                const auto peaks = peak_levels_db(made->filter, rate);
                ASSERT_EQ(peaks.size(), 5);
                if (gain.value == SectionGain::equal_peaks) {
                    const auto [low, high] = std::ranges::minmax_element(peaks);
                    EXPECT_NEAR(*low, *high, 0.02);
                }
            }
        }
    }
}

TEST(Classical, LeastPeakOrderPeaksNoHigher) {
    ClassicalSpec spec = by_order(Family::chebyshev, Band::low_pass, 10, 4000);
    spec.sections.order = SectionOrder::q_descending;
    const auto greatest = [&] {
        return std::ranges::max(peak_levels_db(designed(spec)->filter, rate));
    };
    const double descending = greatest();
    spec.sections.order = SectionOrder::least_peak;
    EXPECT_LT(greatest(), descending - 10);
}

TEST(Classical, NamesItsBandInOneUnit) {
    EXPECT_EQ(summary_of(by_order(Family::butterworth, Band::band_pass, 4, 300, 2000)),
              "0.3–2 kHz, order 4");
    EXPECT_EQ(summary_of(by_order(Family::butterworth, Band::low_pass, 3, 900)), "900 Hz, order 3");
}

TEST(Classical, ShowsItsWorkingInTheOrderOfATextbook) {
    ClassicalSpec spec =
        by_tolerances(Family::elliptic, Band::band_pass, tolerances_for(Band::band_pass));
    const Working working = designed(spec)->working();
    std::vector<std::string> titles;
    for (const WorkingStep& step : working.steps) {
        titles.push_back(step.title);
        for (const WorkingNumber& number : step.numbers) {
            EXPECT_TRUE(std::isfinite(number.value)) << step.title << " " << number.symbol;
        }
    }
    ASSERT_GE(titles.size(), 8);
    EXPECT_EQ(titles[0], "Tolerances");
    EXPECT_EQ(titles[1], "Edges");
    EXPECT_EQ(titles[2], "Order");
    EXPECT_EQ(titles[3], "After rounding");
    EXPECT_EQ(titles[4], "Elliptic moduli");
    EXPECT_EQ(titles[5], "Low-pass prototype, edge at 1 rad/s");
    EXPECT_EQ(titles[6], "Band");
    EXPECT_EQ(titles[7], "Section 1 in s");
}

} // namespace
} // namespace syntonon
