// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/window.h"

#include "core/base/units.h"

#include <cmath>
#include <complex>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

std::vector<double> values(WindowShape shape, std::size_t length, double parameter = 0) {
    return window_values({shape, parameter, {}}, length);
}

// In dB against the value at 0.
double level_db(const std::vector<double>& window, double w) {
    std::complex<double> h = 0;
    double at_0 = 0;
    for (std::size_t n = 0; n < window.size(); ++n) {
        h += window[n] * std::polar(1.0, -w * double(n));
        at_0 += window[n];
    }
    return 20 * std::log10(std::abs(h) / at_0);
}

// Beyond the main lobe, whose half width is given in bins.
double highest_side_lobe_db(const std::vector<double>& window, double lobe_bins) {
    double highest = -1000;
    const auto n = double(window.size());
    for (double bin = lobe_bins; bin < n / 2; bin += 0.02) {
        highest = std::max(highest, level_db(window, 2 * pi * bin / n));
    }
    return highest;
}

TEST(Window, EndsAndMiddlesAreThoseOfTheFormulas) {
    const struct {
        WindowShape shape;
        double end;
    } all[] = {{WindowShape::rectangular, 1},
               {WindowShape::bartlett, 0},
               {WindowShape::hann, 0},
               {WindowShape::hamming, 0.08},
               {WindowShape::blackman, 0},
               {WindowShape::nuttall, 0.355768 - 0.487396 + 0.144232 - 0.012604},
               {WindowShape::blackman_harris, 0.35875 - 0.48829 + 0.14128 - 0.01168}};
    for (const auto& [shape, end] : all) {
        const auto odd = values(shape, 65);
        EXPECT_NEAR(odd[32], 1, 1e-12);
        EXPECT_NEAR(odd[0], end, 1e-12);
        EXPECT_EQ(odd[0], odd[64]);
        // A quarter of the way in the cosines are at a quarter of their turns.
        EXPECT_EQ(values(shape, 64)[0], values(shape, 64)[63]);
    }
    EXPECT_NEAR(values(WindowShape::hann, 65)[16], 0.5, 1e-12);
    EXPECT_NEAR(values(WindowShape::blackman, 65)[16], 0.34, 1e-12);
}

// F. J. Harris, 1978, table I, and A. H. Nuttall, 1981.
TEST(Window, SideLobesAreThoseOfTheTables) {
    EXPECT_NEAR(highest_side_lobe_db(values(WindowShape::rectangular, 101), 1.01), -13.3, 0.1);
    EXPECT_NEAR(highest_side_lobe_db(values(WindowShape::hann, 101), 2.1), -31.5, 0.2);
    EXPECT_NEAR(highest_side_lobe_db(values(WindowShape::hamming, 101), 2.1), -42.7, 0.7);
    EXPECT_NEAR(highest_side_lobe_db(values(WindowShape::blackman, 101), 3.1), -58.1, 0.2);
    EXPECT_NEAR(highest_side_lobe_db(values(WindowShape::blackman_harris, 101), 4.1), -92, 0.3);
    EXPECT_NEAR(highest_side_lobe_db(values(WindowShape::nuttall, 101), 4.1), -93.3, 0.3);
}

TEST(Window, DolphChebyshevKeepsItsSideLobesLevel) {
    for (const double down : {40.0, 80.0, 120.0}) {
        for (const std::size_t length : {64u, 65u}) {
            const auto window = values(WindowShape::dolph_chebyshev, length, down);
            const double x0 = std::cosh(std::acosh(std::pow(10, down / 20)) / double(length - 1));
            const double edge = 2 * std::acos(1 / x0) * double(length) / (2 * pi);
            EXPECT_NEAR(highest_side_lobe_db(window, edge), -down, 0.01) << length;
            EXPECT_NEAR(window[length / 2], length % 2 == 1 ? 1 : window[length / 2 - 1], 1e-12);
        }
    }
}

// I0(x) from a table (M. Abramowitz and I. A. Stegun, table 9.8): I0(5) = 27.239871823604442.
TEST(Window, KaiserIsARatioOfBesselFunctions) {
    const auto window = values(WindowShape::kaiser, 65, 5);
    EXPECT_NEAR(window[0], 1 / 27.239871823604442, 1e-14);
    EXPECT_EQ(window[32], 1);
    // beta sqrt(1 - u^2) = 3 where u = 4/5: I0(3) = 4.880792585865024. u = (n - 40) / 40.
    EXPECT_NEAR(values(WindowShape::kaiser, 81, 5)[8], 4.880792585865024 / 27.239871823604442,
                1e-14);
}

TEST(Window, ParametersDoWhatTheySay) {
    EXPECT_EQ(values(WindowShape::tukey, 65, 0), values(WindowShape::rectangular, 65));
    const auto hann = values(WindowShape::hann, 65), full = values(WindowShape::tukey, 65, 1),
               square = values(WindowShape::cosine_power, 65, 2);
    for (std::size_t n = 0; n < 65; ++n) {
        EXPECT_NEAR(full[n], hann[n], 1e-14);
        EXPECT_NEAR(square[n], hann[n], 1e-14);
    }
    EXPECT_NEAR(values(WindowShape::gaussian, 65, 0.5)[16], std::exp(-0.5), 1e-15);
    const Window drawn{WindowShape::drawn, 0, {{0, 0.2}, {0.25, 1}, {1, 0.5}}};
    const auto points = window_values(drawn, 65);
    EXPECT_NEAR(points[0], 0.2, 1e-15);
    EXPECT_NEAR(points[8], 0.6, 1e-15);
    EXPECT_NEAR(points[40], 0.75, 1e-15);
}

// About a place aside the middle it is the same curve, moved.
TEST(Window, IsMovedByPartsOfASample) {
    for (const auto& name : names_of_windows()) {
        const Window window{name.value, parameter_of(name.value).usual, {{0, 0}, {0.5, 1}, {1, 0}}};
        const auto there = window_values(window, 41, 20.3), back = window_values(window, 41, 19.7);
        for (std::size_t n = 0; n < 41; ++n) {
            EXPECT_NEAR(there[n], back[40 - n], 1e-12) << name.key;
        }
        EXPECT_EQ(window_values(window, 1), std::vector{1.0}) << name.key;
    }
}

// J. F. Kaiser, 1974: 60 dB takes beta 5.653; 0.01 of the rate as transition then takes 363 taps.
TEST(Window, KaisersFormulas) {
    EXPECT_NEAR(kaiser_beta(60), 5.653, 5e-4);
    EXPECT_NEAR(kaiser_beta(30), 2.117, 5e-4);
    EXPECT_EQ(kaiser_beta(15), 0);
    EXPECT_NEAR(kaiser_length(60, 2 * pi * 0.01), 363.5, 0.1);
}

} // namespace
} // namespace syntonon
