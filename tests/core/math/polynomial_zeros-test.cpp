// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/polynomial_zeros.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <limits>
#include <numbers>
#include <random>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

// Uniform over the disc, conjugates written out; about one in ten on the axis.
std::vector<Complex> random_zeros(std::size_t count, std::mt19937& random) {
    std::uniform_real_distribution<double> unit(0, 1);
    std::vector<Complex> zeros;
    while (zeros.size() < count) {
        if (count - zeros.size() >= 2 && unit(random) < 0.9) {
            zeros.push_back(std::polar(std::sqrt(unit(random)), std::numbers::pi * unit(random)));
            zeros.push_back(std::conj(zeros.back()));
        } else {
            zeros.emplace_back(2 * unit(random) - 1, 0);
        }
    }
    return zeros;
}

TEST(MultipliedOut, IsBinomialForOneZeroManyTimes) {
    const std::vector<Complex> zeros(40, Complex(-1, 0));
    const auto c = multiplied_out(3, zeros);
    double binomial = 3;
    for (std::size_t k = 0; k <= 40; ++k) {
        EXPECT_EQ(c[k], binomial);
        binomial = binomial * double(40 - k) / double(k + 1);
    }
}

TEST(MultipliedOut, RoundsOnce) {
    // (z - 1/3)(z + 1/3), 1/3 being a double: minus its square, rounded.
    const std::vector<Complex> zeros{1.0 / 3, -1.0 / 3};
    EXPECT_EQ(multiplied_out(1, zeros), (std::vector{1.0, 0.0, -(1.0 / 3) * (1.0 / 3)}));
    EXPECT_EQ(multiplied_out(-2, {}), std::vector{-2.0});
}

TEST(PolynomialZeros, GoThereAndBack) {
    std::mt19937 random(12);
    for (const std::size_t degree : {1u, 2u, 3u, 6u, 13u, 24u, 40u, 90u, 200u}) {
        double worst = 0;
        for (int times = degree <= 40 ? 10 : 1; times > 0; --times) {
            const auto c = multiplied_out(0.7, random_zeros(degree, random));
            const auto found = polynomial_zeros(c);
            ASSERT_TRUE(found) << degree;
            ASSERT_EQ(found->zeros.size(), degree);
            const auto again = multiplied_out(c[0], found->zeros);
            double off = 0;
            for (std::size_t k = 0; k <= degree; ++k) {
                off = std::max(off, std::abs(again[k] / c[k] - 1));
            }
            EXPECT_NEAR(off, found->round_trip, 2e-15);
            worst = std::max(worst, off);
        }
        EXPECT_LT(worst, 1e-10) << degree;
        RecordProperty("order_" + std::to_string(degree), std::to_string(worst * 1e15) + "e-15");
    }
}

// A pair and a real zero, both so many times, among others: where these lie close by, rounding the
// coefficients may hide what was one.
TEST(PolynomialZeros, KeepMultipleOnesAmongOthers) {
    std::mt19937 random(4);
    std::uniform_real_distribution<double> unit(0, 1);
    for (const std::size_t others : {0u, 6u, 20u}) {
        int kept = 0, all = 0;
        for (std::size_t times = 2; times <= 5; ++times) {
            for (int i = 0; i < 5; ++i, ++all) {
                const Complex pair =
                    std::polar(0.3 + 0.69 * unit(random), 0.1 + 2.9 * unit(random));
                const Complex real(1.9 * unit(random) - 0.95, 0);
                auto zeros = random_zeros(others, random);
                for (std::size_t k = 0; k < times; ++k) {
                    zeros.insert(zeros.end(), {pair, std::conj(pair), real});
                }
                const auto found = polynomial_zeros(multiplied_out(1, zeros));
                ASSERT_TRUE(found);
                const auto count = [&](const Complex& wanted) {
                    return static_cast<std::size_t>(
                        std::ranges::count_if(found->zeros, [&](const Complex& z) {
                            return std::abs(z - wanted) < 1e-9;
                        }));
                };
                kept += count(pair) == times && count(real) == times ? 1 : 0;
            }
        }
        EXPECT_GE(kept, others == 20 ? all - 3 : all) << others;
        RecordProperty("kept_among_" + std::to_string(others),
                       std::to_string(kept) + " of " + std::to_string(all));
    }
}

TEST(PolynomialZeros, KeepMultipleOnesTogether) {
    const Complex pair = std::polar(0.95, 0.3);
    for (const std::size_t times : {1u, 2u, 3u, 4u, 5u}) {
        std::vector<Complex> zeros{{0.5, 0.5}, {0.5, -0.5}, {0.9, 0}, {-1, 0}};
        for (std::size_t i = 0; i < times; ++i) {
            zeros.insert(zeros.end(), {pair, std::conj(pair), Complex(-0.8, 0)});
        }
        const auto found = polynomial_zeros(multiplied_out(1, zeros));
        ASSERT_TRUE(found);
        for (const Complex& wanted : {pair, std::conj(pair), Complex(-0.8, 0)}) {
            const auto first = std::ranges::min_element(
                found->zeros, {}, [&](const Complex& z) { return std::abs(z - wanted); });
            EXPECT_LT(std::abs(*first - wanted), 1e-10);
            EXPECT_EQ(std::ranges::count(found->zeros, *first), std::ptrdiff_t(times)) << wanted;
        }
    }
}

TEST(PolynomialZeros, KeepWholeNumbersThatAreMultipleExactly) {
    // (z - 1)^5 (z + 2)^2, whose coefficients are exact
    const std::vector<Complex> zeros{1, 1, 1, 1, 1, -2, -2};
    const auto found = polynomial_zeros(multiplied_out(1, zeros));
    ASSERT_TRUE(found);
    EXPECT_EQ(std::ranges::count(found->zeros, Complex(1, 0)), 5);
    EXPECT_EQ(std::ranges::count(found->zeros, Complex(-2, 0)), 2);
}

TEST(PolynomialZeros, TellCloseOnesApart) {
    // A pair a millionth of a radian from the axis is no double zero: cos says so.
    constexpr double angle = 1e-6;
    const std::vector<double> c{1, -2 * std::cos(angle), 1};
    const auto found = polynomial_zeros(c);
    ASSERT_TRUE(found);
    EXPECT_NEAR(found->zeros[0].imag(), angle, 1e-3 * angle); // as far as c[1] knows it
    EXPECT_EQ(found->zeros[1], std::conj(found->zeros[0]));
    // Two on the axis, a part in ten million apart.
    const std::vector<Complex> close{0.9, 0.9 + 1e-7};
    const auto two = polynomial_zeros(multiplied_out(1, close));
    EXPECT_NEAR(std::abs(two->zeros[0].real() - two->zeros[1].real()), 1e-7, 1e-8);
}

TEST(PolynomialZeros, AreFoundFarFromOneToo) {
    for (const double last : {1e-316, 1e-40, 1e200}) {
        std::vector<double> c(201, 0.0); // z^200 = -last
        c.front() = 1, c.back() = last;
        const auto found = polynomial_zeros(c);
        ASSERT_TRUE(found) << last;
        ASSERT_EQ(found->zeros.size(), 200u);
        const double radius = std::pow(last, 1.0 / 200);
        for (const Complex& zero : found->zeros) {
            EXPECT_NEAR(std::abs(zero) / radius, 1, 1e-9) << last;
        }
        EXPECT_NEAR(greatest_zero(c) / radius, 1, 1e-9);
    }
}

TEST(PolynomialZeros, AtTheOriginAreTrailingZeros) {
    const auto found = polynomial_zeros(std::vector<double>{2, -1, 0, 0});
    ASSERT_TRUE(found);
    EXPECT_EQ(found->zeros, (std::vector<Complex>{0.5, 0, 0}));
    EXPECT_TRUE(polynomial_zeros(std::vector<double>{3})->zeros.empty());
}

TEST(PolynomialZeros, StopAtEveryMoment) {
    std::mt19937 random(5);
    const auto c = multiplied_out(1, random_zeros(40, random));
    int asked = 0;
    ASSERT_TRUE(polynomial_zeros(c, [&asked] { return ++asked < 0; }));
    EXPECT_GT(asked, 40) << "often enough to stop within milliseconds";
    for (const int last : {1, asked / 2, asked}) {
        int now = 0;
        EXPECT_FALSE(polynomial_zeros(c, [&] { return ++now >= last; }));
        EXPECT_LE(now, last + 10) << "little is done once it is to stop";
    }
}

TEST(PolynomialZeros, AreNotHadOfWhatIsNoPolynomial) {
    EXPECT_FALSE(polynomial_zeros({}));
    EXPECT_FALSE(polynomial_zeros(std::vector<double>{0, 1}));
    EXPECT_FALSE(polynomial_zeros(std::vector<double>{1, std::nan("")}));
}

TEST(GreatestZero, IsThatOfZerosInClosedForm) {
    EXPECT_EQ(greatest_zero(std::vector<double>{3}), 0);
    EXPECT_NEAR(greatest_zero(std::vector<double>{2, -1, 0, 0}), 0.5, 1e-15);
    EXPECT_NEAR(greatest_zero(multiplied_out(1, std::vector<Complex>(8, Complex(0.99, 0)))), 0.99,
                1e-15)
        << "one, eight times";
    std::vector<double> ring(201, 0.0); // z^200 = 0.3
    ring.front() = 1;
    ring.back() = -0.3;
    EXPECT_NEAR(greatest_zero(ring), std::pow(0.3, 1 / 200.0), 1e-14);
    EXPECT_EQ(greatest_zero(std::vector<double>{0, 1}), std::numeric_limits<double>::infinity());
    EXPECT_EQ(greatest_zero(std::vector<double>{1, std::nan("")}),
              std::numeric_limits<double>::infinity());
}

TEST(GreatestZero, IsTheSameAboveTheDegreeOfMerging) {
    std::mt19937 random(3);
    for (const std::size_t count : {32, 33, 60}) {
        auto zeros = random_zeros(count - 2, random);
        zeros.emplace_back(0.2, 1.3);
        zeros.emplace_back(0.2, -1.3);
        EXPECT_NEAR(greatest_zero(multiplied_out(1, zeros)), std::hypot(0.2, 1.3), 1e-12) << count;
    }
}

} // namespace
} // namespace syntonon
