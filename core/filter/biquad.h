// The second-order section, and its value on the unit circle.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <vector>

namespace syntonon {

// H(z) = (b0 + b1 z^-1 + b2 z^-2) / (1 + a1 z^-1 + a2 z^-2), normalised to a0 = 1, so
// y[n] = b0 x[n] + b1 x[n-1] + b2 x[n-2] - a1 y[n-1] - a2 y[n-2].
// A first-order section has b2 = a2 = 0.
struct Biquad {
    double b0 = 1, b1 = 0, b2 = 0;
    double a1 = 0, a2 = 0;

    bool operator==(const Biquad&) const = default;
};

// Sections one after the other.
struct Cascade {
    std::vector<Biquad> sections;

    bool operator==(const Cascade&) const = default;
};

// A quadratic c0 + c1 z^-1 + c2 z^-2 on the circle z = e^jw, turned by e^jw so that it becomes
//     c0 e^jw + c1 + c2 e^-jw = (dc - slope sin^2(w/2)) + j skew sin(w)
// with dc = c0 + c1 + c2, slope = 2 (c0 + c2), skew = c0 - c2. (Expand with cos w = 1 -
// 2 sin^2(w/2).) Above a quarter of the sample rate the same real part is
//     half_rate + slope cos^2(w/2)   with half_rate = c1 - c0 - c2.
// The turn cancels between numerator and denominator. Two things follow: dc and half_rate, summed
// without rounding, keep the digits that cos w - 1 and cos w + 1 would lose near the ends, zeros at
// the ends included; and since the imaginary part never changes its sign for 0 < w < pi, its
// argument never wraps there.
struct CircleQuadratic {
    double dc = 0;
    double slope = 0;
    double skew = 0;
    double half_rate = 0;
};

CircleQuadratic numerator_on_circle(const Biquad& section);
CircleQuadratic denominator_on_circle(const Biquad& section);

} // namespace syntonon
