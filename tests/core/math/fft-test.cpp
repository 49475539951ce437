// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/fft.h"

#include "tests/support/noise.h"

#include <array>
#include <gtest/gtest.h>
#include <numbers>
#include <random>
#include <thread>

namespace syntonon {
namespace {

TEST(RealFft, IsTheSumThatDefinesIt) {
    for (const std::size_t n : {1u, 2u, 7u, 30u}) {
        const std::vector<double> x = noise(n, 3);
        RealFft fft(n);
        std::ranges::copy(x, fft.signal().begin());
        fft.to_spectrum();
        for (std::size_t k = 0; k < n / 2 + 1; ++k) {
            std::complex<double> sum = 0;
            for (std::size_t i = 0; i < n; ++i) {
                sum += x[i] * std::polar(1.0, -2 * std::numbers::pi * double(k * i) / double(n));
            }
            EXPECT_NEAR(std::abs(fft.spectrum()[k] - sum), 0, 1e-13 * double(n));
        }
        fft.to_signal();
        for (std::size_t i = 0; i < n; ++i) {
            EXPECT_NEAR(fft.signal()[i] / double(n), x[i], 1e-14);
        }
    }
}

TEST(RealFft, InPlaceIsTheSameWhereverItLies) {
    for (const std::size_t n : {2u, 7u, 30u, 1000u}) {
        const std::vector<double> x = noise(n, 4);
        RealFft fft(n);
        std::ranges::copy(x, fft.signal().begin());
        fft.to_spectrum();
        std::vector<double> memory(n + 4);
        for (const std::size_t from : {0u, 1u}) { // once aligned and once not
            auto* bins = reinterpret_cast<std::complex<double>*>(memory.data() + from);
            const std::span inner(bins, n / 2 + 1);
            std::ranges::copy(x, signal_in(inner).begin());
            to_spectrum_in_place(inner, n);
            for (std::size_t k = 0; k < inner.size(); ++k) {
                EXPECT_NEAR(std::abs(inner[k] - fft.spectrum()[k]), 0, 1e-13 * double(n)) << n;
            }
        }
    }
}

TEST(RealFft, ManyLengthsInManyThreads) {
    // More lengths than plans are kept, so that some are thrown away while others use theirs.
    std::vector<std::jthread> threads;
    std::array<double, 8> worst{};
    for (std::size_t t = 0; t < worst.size(); ++t) {
        threads.emplace_back([t, &worst] {
            for (std::size_t turn = 0; turn < 60; ++turn) {
                const std::size_t n = 20 + 2 * ((turn * 7 + t * 5) % 31);
                RealFft fft(n);
                std::ranges::fill(fft.signal(), 0.0);
                fft.signal()[1] = 1;
                fft.to_spectrum();
                for (std::size_t k = 0; k <= n / 2; ++k) {
                    const auto turned =
                        std::polar(1.0, -2 * std::numbers::pi * double(k) / double(n));
                    worst[t] = std::max(worst[t], std::abs(fft.spectrum()[k] - turned));
                }
                fft.to_signal();
                worst[t] = std::max(worst[t], std::abs(fft.signal()[1] / double(n) - 1));
            }
        });
    }
    threads.clear();
    for (const double off : worst) {
        EXPECT_LT(off, 1e-13);
    }
}

TEST(RealFft, QuickLengthsAreEvenProductsOfSmallPrimes) {
    EXPECT_EQ(quick_fft_length(1), 2u);
    EXPECT_EQ(quick_fft_length(7), 8u);
    EXPECT_EQ(quick_fft_length(11), 12u);
    EXPECT_EQ(quick_fft_length(1025), 1080u);
    EXPECT_EQ(quick_fft_length(65536), 65536u);
}

TEST(Convolution, IsThePolynomialProduct) {
    const std::vector<double> a{1, 2, 3}, b{1, -1};
    EXPECT_EQ(convolved(a, b, 6), (std::vector<double>{1, 1, 1, -3, 0, 0}));
    EXPECT_EQ(convolved(a, b, 2), (std::vector<double>{1, 1}));
    EXPECT_TRUE(convolved(a, b, 0).empty());
}

TEST(Convolution, ByTransformIsTheSameAsTermByTerm) {
    const std::vector<double> a = noise(300, 1), b = noise(150, 2);
    const auto whole = convolved(a, b, 449);
    for (const std::size_t n : {0u, 10u, 200u, 448u}) {
        double sum = 0;
        for (std::size_t i = 0; i < a.size(); ++i) {
            sum += n >= i && n - i < b.size() ? a[i] * b[n - i] : 0;
        }
        EXPECT_NEAR(whole[n], sum, 1e-12);
    }
}

TEST(Convolution, TheInverseOfAGeometricSeriesHasTwoTerms) {
    std::vector<double> a(500);
    double power = 2;
    for (double& v : a) {
        v = power;
        power *= 0.9;
    }
    const auto inverse = convolution_inverse(a, 500);
    EXPECT_NEAR(inverse[0], 0.5, 1e-15);
    EXPECT_NEAR(inverse[1], -0.45, 1e-15);
    for (std::size_t n = 2; n < inverse.size(); ++n) {
        EXPECT_NEAR(inverse[n], 0, 1e-14);
    }
}

} // namespace
} // namespace syntonon
