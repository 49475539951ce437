// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/multiple_zeros.h"

#include "core/math/polynomial_zeros.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

std::vector<double> in_double(const Tail& tail) {
    std::vector<double> c;
    std::ranges::transform(tail, std::back_inserter(c), [](const auto& v) { return v.toDouble(); });
    return c;
}

// Three around 1/2, as far apart as rounding drives them, and one by itself.
const std::vector<Complex> around_a_half{
    {0.5 + 1e-5, 0}, std::polar(1e-5, 2.1) + 0.5, std::polar(1e-5, -2.1) + 0.5, {-0.25, 0}};

TEST(MultipleZeros, AreMultipliedOutAsOftenAsTheyAreThere) {
    EXPECT_EQ(in_double(product_of({{{0.5, 0}, 3}})), (std::vector{-1.5, 0.75, -0.125}));
    EXPECT_EQ(in_double(product_of({{{0, 1}, 2}})), (std::vector{0.0, 2.0, 0.0, 1.0}));
    EXPECT_TRUE(product_of({}).empty());
}

TEST(MultipleZeros, AreWrittenOutWithTheirConjugates) {
    const Complex up(0.25, 0.5);
    EXPECT_EQ(written_out({{{0.25, 0.5}, 2}, {{-1, 0}, 1}}),
              (std::vector{up, std::conj(up), up, std::conj(up), Complex(-1)}));
    EXPECT_EQ(written_out(each_once(around_a_half)), around_a_half);
}

TEST(MultipleZeros, AreOneWhereThatExplainsTheCoefficients) {
    const Precision precision(bits_for(4));
    const Tail wanted = product_of({{{0.5, 0}, 3}, {{-0.25, 0}, 1}});
    Multiplicities zeros = each_once(around_a_half);
    merge_multiples(zeros, wanted, never_stopped);
    ASSERT_EQ(zeros.size(), 2u);
    const auto three = std::ranges::find(zeros, 3u, &MultipleZero::times);
    ASSERT_NE(three, zeros.end());
    EXPECT_EQ(to_double(three->at), Complex(0.5));
}

TEST(MultipleZeros, StayApartWhereTheCoefficientsSaySo) {
    const Precision precision(bits_for(4));
    const Multiplicities apart = each_once(around_a_half);
    Multiplicities zeros = apart;
    merge_multiples(zeros, product_of(apart), never_stopped);
    EXPECT_EQ(written_out(zeros), around_a_half);
}

TEST(MultipleZeros, AreLeftAsTheyAreOnceStopped) {
    const Precision precision(bits_for(4));
    const Tail wanted = product_of({{{0.5, 0}, 3}, {{-0.25, 0}, 1}});
    Multiplicities zeros = each_once(around_a_half);
    merge_multiples(zeros, wanted, [] { return true; });
    EXPECT_EQ(written_out(zeros), around_a_half);
}

} // namespace
} // namespace syntonon
