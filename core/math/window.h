// Windows: what a finite row is weighted with so that its spectrum has low side lobes.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/named_value.h"
#include "core/base/problem.h"

#include <cstddef>
#include <span>
#include <string_view>
#include <vector>

namespace syntonon {

// F. J. Harris, On the use of windows for harmonic analysis with the discrete Fourier transform,
// Proc. IEEE 66, 1978; A. H. Nuttall, Some windows with very good sidelobe behavior, IEEE Trans.
// ASSP 29, 1981; J. F. Kaiser, Nonrecursive digital filter design using the I0-sinh window
// function, IEEE ISCAS 1974; C. L. Dolph, A current distribution for broadside arrays, Proc. IRE
// 34, 1946.
enum class WindowShape {
    rectangular,
    bartlett,
    hann,
    hamming,
    blackman,
    nuttall,
    blackman_harris,
    flat_top,
    kaiser,          // parameter: beta
    dolph_chebyshev, // side-lobe attenuation in dB
    tukey,           // the share that is tapered, 0 to 1
    gaussian,        // standard deviation as a share of half the length
    cosine_power,    // exponent
    drawn            // straight between points
};

struct WindowPoint {
    double place = 0; // 0 at the first tap, 1 at the last
    double value = 1;

    bool operator==(const WindowPoint&) const = default;
};

struct Window {
    WindowShape shape = WindowShape::kaiser;
    double parameter = 8;            // of those that have one
    std::vector<WindowPoint> points; // of a drawn one, by ascending place; level beyond the ends

    bool operator==(const Window&) const = default;
};

std::span<const NamedValue<WindowShape>> names_of_windows();

// What its parameter is; nothing (an empty name) for those without.
struct WindowParameter {
    std::string_view name, unit;
    double least = 0, most = 0, usual = 0; // both allowed
};
WindowParameter parameter_of(WindowShape shape);

// Refuses a parameter that is out of range ("window_parameter"), and points of a drawn one that are
// none or out of place ("window_points[2]").
Expected<void> check(const Window& window);

// At the taps 0 to length - 1 the window whose middle stands at `centre` and whose nearer end
// reaches beyond the taps where it stands aside: half its width is max(centre, length - 1 -
// centre). 1 in the middle (a drawn one as drawn); of length 1: 1. `centre` is within the taps.
std::vector<double> window_values(const Window& window, std::size_t length, double centre);
// About (length - 1) / 2: symmetric, to the bit.
std::vector<double> window_values(const Window& window, std::size_t length);

// Kaiser's formulas: beta for a stopband's attenuation in dB, and the least length for it and a
// transition's width (eq. 7 and 8 there).
double kaiser_beta(double attenuation_db);
double kaiser_length(double attenuation_db, double transition_rad);

} // namespace syntonon
