// Pairs of all-passes against the filters that they stand for.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/all_pass_pair.h"

#include "core/design/roots.h"
#include "tests/support/classical_designs.h"
#include "tests/support/rate.h"

#include <cmath>
#include <complex>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

Complex at(const Filter& filter, double hz) {
    return Probe(filter, rate).value(hz).h;
}

TEST(AllPassPair, AddsUpToOddOrdersAndTheDifferenceIsComplementary) {
    for (const auto family : {ClassicalFamily::butterworth, ClassicalFamily::chebyshev,
                              ClassicalFamily::inverse_chebyshev, ClassicalFamily::elliptic}) {
        for (const auto band : {ClassicalBand::low_pass, ClassicalBand::high_pass,
                                ClassicalBand::band_pass, ClassicalBand::band_stop}) {
            for (const int order : {1, 3, 5, 7}) {
                const Filter filter = designed(by_order(family, band, order, 2000, 6000))->filter;
                const auto pair = all_pass_pair(filter);
                ASSERT_TRUE(pair) << to_text(pair.error()) << static_cast<int>(family) << " "
                                  << static_cast<int>(band) << " " << order;
                const Filter a = filter_of_roots(pair->branches[0]),
                             b = filter_of_roots(pair->branches[1]);
                for (const double hz : {50.0, 900.0, 1999.0, 3500.0, 6000.0, 12'000.0, 23'000.0}) {
                    const Complex va = at(a, hz), vb = at(b, hz), h = at(filter, hz);
                    EXPECT_NEAR(std::abs(va), 1, 1e-9);
                    EXPECT_NEAR(std::abs(pair->factors[0] * va + pair->factors[1] * vb - h), 0,
                                1e-9);
                    EXPECT_NEAR(std::norm(pair->factors[0] * va - pair->factors[1] * vb)
                                    + std::norm(h),
                                1, 1e-8)
                        << "power-complementary";
                }
                EXPECT_EQ(std::abs(pair->factors[0]), 0.5);
            }
        }
    }
}

// Far below half the rate, where most of the circle says nothing of it.
TEST(AllPassPair, FindsThoseOfLowFilters) {
    for (const int order : {3, 7, 9}) {
        EXPECT_TRUE(all_pass_pair(
            designed(by_order(ClassicalFamily::chebyshev, ClassicalBand::low_pass, order, 50, 0))
                ->filter));
    }
}

TEST(AllPassPair, RefusesWhatIsNone) {
    for (const int order : {2, 4}) {
        EXPECT_FALSE(all_pass_pair(designed(by_order(ClassicalFamily::butterworth,
                                                     ClassicalBand::low_pass, order, 2000, 0))
                                       ->filter));
    }
    EXPECT_FALSE(all_pass_pair(
        designed(by_order(ClassicalFamily::bessel, ClassicalBand::low_pass, 3, 2000, 0))->filter));
    EXPECT_FALSE(all_pass_pair(Filter()));
    const Axis analog{rate, Domain::analog};
    EXPECT_FALSE(all_pass_pair(
        designed(by_order(ClassicalFamily::butterworth, ClassicalBand::low_pass, 3, 2000, 0),
                 analog)
            ->filter));
}

} // namespace
} // namespace syntonon
