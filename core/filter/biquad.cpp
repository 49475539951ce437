// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/biquad.h"

namespace syntonon {
namespace {

struct Sum {
    double value, error;
};

// a + b and what rounding took from it. Knuth, The Art of Computer Programming, vol. 2, 4.2.2,
// theorem B.
Sum exact_sum(double a, double b) {
    const double sum = a + b;
    const double b_taken = sum - a;
    const double a_taken = sum - b_taken;
    return {sum, (a - a_taken) + (b - b_taken)};
}

CircleQuadratic on_circle(double c0, double c1, double c2) {
    const Sum outer = exact_sum(c0, c2);
    const Sum at_0 = exact_sum(c1, outer.value);
    const Sum at_half = exact_sum(c1, -outer.value);
    return {at_0.value + (at_0.error + outer.error), 2 * outer.value, c0 - c2,
            at_half.value + (at_half.error - outer.error)};
}

} // namespace

CircleQuadratic numerator_on_circle(const Biquad& section) {
    return on_circle(section.b0, section.b1, section.b2);
}

CircleQuadratic denominator_on_circle(const Biquad& section) {
    return on_circle(1.0, section.a1, section.a2);
}

} // namespace syntonon
