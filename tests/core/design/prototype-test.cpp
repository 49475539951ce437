// Prototypes against 50-digit values, printed tables and what defines them.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/prototype.h"

#include "core/base/units.h"
#include "tests/core/design/prototypes_table.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

using Complex = std::complex<double>;
using prototypes::Family;

Expected<Prototype> made(Family family, int order, double pass_ripple_db,
                         double stop_attenuation_db) {
    switch (family) {
    case Family::butterworth:
        return butterworth_prototype(order);
    case Family::chebyshev:
        return chebyshev_prototype(order, pass_ripple_db);
    case Family::inverse_chebyshev:
        return inverse_chebyshev_prototype(order, stop_attenuation_db);
    case Family::bessel_delay:
        return bessel_prototype(order, BesselEdge::delay);
    case Family::bessel_level:
        return bessel_prototype(order, BesselEdge::level);
    case Family::legendre:
        return legendre_prototype(order);
    case Family::gaussian:
        return gaussian_prototype(order);
    case Family::elliptic:
        break;
    }
    return elliptic_prototype(order, pass_ripple_db, stop_attenuation_db);
}

double level_db(const Prototype& prototype, double rad_per_s) {
    const Complex s(0, rad_per_s);
    // Factor by factor, so that a high order does not leave the range of a double.
    double db = db_from_ratio(std::abs(prototype.gain));
    for (const Complex& zero : prototype.zeros) {
        db += db_from_ratio(std::abs(s - zero));
    }
    for (const Complex& pole : prototype.poles) {
        db -= db_from_ratio(std::abs(s - pole));
    }
    return db;
}

// The monic polynomial, highest power first.
std::vector<double> polynomial_of(const std::vector<Complex>& roots) {
    std::vector<Complex> c{1};
    for (const Complex& root : roots) {
        c.emplace_back(0);
        for (std::size_t k = c.size() - 1; k > 0; --k) {
            c[k] -= root * c[k - 1];
        }
    }
    std::vector<double> real;
    for (const Complex& value : c) {
        real.push_back(value.real());
    }
    return real;
}

TEST(Prototype, PolesAndZerosAreRightTo1e12) {
    double worst = 0;
    for (const prototypes::Root& wanted : prototypes::roots) {
        const auto found =
            made(wanted.family, wanted.order, wanted.pass_ripple_db, wanted.stop_attenuation_db);
        ASSERT_TRUE(found) << to_text(found.error());
        const auto& roots = wanted.is_zero ? found->zeros : found->poles;
        const Complex root(wanted.re, wanted.im);
        double off = infinity;
        for (const Complex& one : roots) {
            off = std::min(off, std::abs(one - root) / std::abs(root));
        }
        EXPECT_LT(off, 1e-12) << static_cast<int>(wanted.family) << " of order " << wanted.order
                              << ", " << root;
        worst = std::max(worst, off);
    }
    RecordProperty("worst", std::to_string(worst * 1e15) + "e-15");
}

TEST(Prototype, HasAsManyRootsAsItsOrderSays) {
    for (int order = 1; order <= most_prototype_order; ++order) {
        const auto count = static_cast<std::size_t>(order);
        const auto even = static_cast<std::size_t>(order / 2 * 2);
        EXPECT_EQ(butterworth_prototype(order)->poles.size(), count);
        EXPECT_EQ(synchronous_prototype(order)->poles.size(), count);
        EXPECT_EQ(chebyshev_prototype(order, 0.5)->poles.size(), count);
        EXPECT_EQ(inverse_chebyshev_prototype(order, 60)->zeros.size(), even);
        EXPECT_EQ(elliptic_prototype(order, 0.5, 60)->poles.size(), count);
        EXPECT_EQ(elliptic_prototype(order, 0.5, 60)->zeros.size(), even);
        for (const auto& searched : {bessel_prototype(order, BesselEdge::level),
                                     bessel_prototype(order, BesselEdge::delay),
                                     legendre_prototype(order), gaussian_prototype(order)}) {
            EXPECT_EQ(searched->poles.size(), count);
            for (const Complex& pole : searched->poles) {
                EXPECT_LT(pole.real(), 0) << "stable";
            }
        }
        const auto elliptic = elliptic_prototype(order, 0.5, 60);
        for (const Complex& pole : elliptic->poles) {
            EXPECT_LT(pole.real(), 0) << "stable";
        }
    }
}

// Third-order 0.5 dB Chebyshev, and Butterworth polynomials (A. B. Williams, Electronic Filter
// Design Handbook, and any other table).
TEST(Prototype, MatchesPrintedPolynomials) {
    const auto chebyshev = polynomial_of(chebyshev_prototype(3, 0.5)->poles);
    const std::vector<double> printed{1, 1.252913, 1.534895, 0.715694};
    for (std::size_t k = 0; k < printed.size(); ++k) {
        EXPECT_NEAR(chebyshev[k], printed[k], 6e-7);
    }
    const auto fifth = polynomial_of(butterworth_prototype(5)->poles);
    const std::vector<double> wanted{1, 3.236068, 5.236068, 5.236068, 3.236068, 1};
    for (std::size_t k = 0; k < wanted.size(); ++k) {
        EXPECT_NEAR(fifth[k], wanted[k], 6e-7);
    }
}

// Orders 1 to 8 of M. E. Van Valkenburg, Analog Filter Design, 1982, table 10.1, or any other.
TEST(Prototype, MatchesPrintedBesselPolynomials) {
    const std::vector<std::vector<double>> printed{
        {1, 1},
        {1, 3, 3},
        {1, 6, 15, 15},
        {1, 10, 45, 105, 105},
        {1, 15, 105, 420, 945, 945},
        {1, 21, 210, 1260, 4725, 10395, 10395},
        {1, 28, 378, 3150, 17325, 62370, 135135, 135135},
        {1, 36, 630, 6930, 51975, 270270, 945945, 2027025, 2027025}};
    for (const auto& row : printed) {
        const int order = static_cast<int>(row.size()) - 1;
        const auto found = polynomial_of(bessel_prototype(order, BesselEdge::delay)->poles);
        for (std::size_t k = 0; k < row.size(); ++k) {
            EXPECT_NEAR(found[k] / row[k], 1, 1e-13) << order;
        }
    }
}

// Butterworth polynomials to order 8 (L. Weinberg, Network Analysis and Synthesis, 1962, table
// 11-1).
TEST(Prototype, MatchesPrintedButterworthPolynomials) {
    const std::vector<std::vector<double>> printed{
        {1, 1},
        {1, 1.4142136, 1},
        {1, 2, 2, 1},
        {1, 2.6131259, 3.4142136, 2.6131259, 1},
        {1, 3.2360680, 5.2360680, 5.2360680, 3.2360680, 1},
        {1, 3.8637033, 7.4641016, 9.1416202, 7.4641016, 3.8637033, 1},
        {1, 4.4939592, 10.0978347, 14.5917939, 14.5917939, 10.0978347, 4.4939592, 1},
        {1, 5.1258309, 13.1370712, 21.8461510, 25.6883559, 21.8461510, 13.1370712, 5.1258309, 1}};
    for (const auto& row : printed) {
        const auto found =
            polynomial_of(butterworth_prototype(static_cast<int>(row.size()) - 1)->poles);
        for (std::size_t k = 0; k < row.size(); ++k) {
            EXPECT_NEAR(found[k], row[k], 6e-8);
        }
    }
}

// Third order: 1 + w^2 - 3 w^4 + 3 w^6 (Papoulis).
TEST(Prototype, LegendreIsTheSteepestThatFalls) {
    for (const double w : {0.3, 0.7, 1.0, 1.9}) {
        const double square = w * w;
        EXPECT_NEAR(
            level_db(*legendre_prototype(3), w),
            -10 * std::log10(1 + square - 3 * square * square + 3 * square * square * square),
            1e-12);
    }
    for (const int order : {2, 5, 10, 25}) {
        const Prototype found = *legendre_prototype(order);
        double last = 0;
        for (double w = 0.001; w < 3; w += 0.001) {
            const double level = level_db(found, w);
            EXPECT_LE(level, last + 1e-10);
            last = level;
        }
        const double beyond = 1.01;
        EXPECT_LE(level_db(found, beyond), level_db(*butterworth_prototype(order), beyond) + 1e-12);
    }
}

TEST(Prototype, HasItsEdgeAtOneRadianPerSecond) {
    for (const int order : {1, 2, 3, 6, 14, 30, 50}) {
        EXPECT_NEAR(level_db(*butterworth_prototype(order), 1), db_from_power(0.5), 1e-10);
        EXPECT_NEAR(level_db(*synchronous_prototype(order), 1), db_from_power(0.5), 1e-9);
        EXPECT_NEAR(level_db(*legendre_prototype(order), 1), db_from_power(0.5), 1e-9);
        EXPECT_NEAR(level_db(*gaussian_prototype(order), 1), db_from_power(0.5), 1e-10);
        EXPECT_NEAR(level_db(*bessel_prototype(order, BesselEdge::level), 1), db_from_power(0.5),
                    1e-10);
        for (const double ripple_db : {0.01, 0.5, 3.0}) {
            EXPECT_NEAR(level_db(*chebyshev_prototype(order, ripple_db), 1), -ripple_db, 1e-9);
        }
        EXPECT_NEAR(level_db(*inverse_chebyshev_prototype(order, 60), 1), -60, 1e-9);
    }
    // Of higher orders the poles crowd at the edge closer than doubles tell them apart.
    for (const int order : {1, 2, 3, 4, 8, 13, 20}) {
        for (const double ripple_db : {0.01, 0.5, 3.0}) {
            EXPECT_NEAR(level_db(*elliptic_prototype(order, ripple_db, 60), 1), -ripple_db, 1e-9)
                << order;
        }
    }
    for (const int order : {2, 4, 8, 50}) {
        EXPECT_NEAR(level_db(*linkwitz_riley_prototype(order), 1), db_from_ratio(0.5), 1e-10);
    }
}

TEST(Prototype, RipplesBetweenItsLimitsAndNotBeyond) {
    for (const int order : {3, 4, 7, 10}) {
        const Prototype elliptic = *elliptic_prototype(order, 0.5, 50);
        double highest = -infinity, lowest = 0;
        for (double w = 0; w <= 1; w += 1e-4) {
            highest = std::max(highest, level_db(elliptic, w));
            lowest = std::min(lowest, level_db(elliptic, w));
        }
        EXPECT_NEAR(highest, 0, 1e-5);
        EXPECT_NEAR(lowest, -0.5, 1e-5);
        // Beyond the lowest zero the attenuation is never less than what was asked for.
        double first_zero = infinity, above = -infinity;
        for (const Complex& zero : elliptic.zeros) {
            first_zero = std::min(first_zero, std::abs(zero));
        }
        for (double w = first_zero; w < 100; w *= 1.0005) {
            above = std::max(above, level_db(elliptic, w));
        }
        EXPECT_NEAR(above, -50, 1e-3) << order;
    }
}

TEST(Prototype, RefusesWhatNoFilterIs) {
    EXPECT_EQ(butterworth_prototype(0).error().place, "order");
    EXPECT_EQ(butterworth_prototype(51).error().place, "order");
    EXPECT_EQ(linkwitz_riley_prototype(3).error().place, "order");
    EXPECT_EQ(chebyshev_prototype(3, 0).error().place, "pass_ripple_db");
    EXPECT_EQ(inverse_chebyshev_prototype(3, -1).error().place, "stop_attenuation_db");
    EXPECT_EQ(inverse_chebyshev_prototype(3, 20000).error().place, "stop_attenuation_db");
    EXPECT_EQ(elliptic_prototype(3, 1, 4475).error().place, "stop_attenuation_db");
    EXPECT_EQ(elliptic_prototype(3, 1, 1).error().place, "stop_attenuation_db");
    EXPECT_EQ(elliptic_prototype(3, 1, std::nan("")).error().place, "stop_attenuation_db");
}

} // namespace
} // namespace syntonon
