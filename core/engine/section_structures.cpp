// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/section_structures.h"

#include <algorithm>
#include <cmath>

namespace syntonon {

// With c(z) = (b1 - b0 a1) z + (b2 - b0 a2), H = b0 + c(z) / (z^2 + a1 z + a2).
std::optional<CoupledForm> CoupledForm::of(const Biquad& section) {
    CoupledForm form;
    form.d_ = section.b0;
    form.c1_ = section.b1 - section.b0 * section.a1;
    const double last = section.b2 - section.b0 * section.a2;
    const double middle = -section.a1 / 2, square = section.a2 - middle * middle;
    if (square > 0) {
        const double turn = std::sqrt(square);
        form.a11_ = form.a22_ = middle;
        form.a12_ = turn;
        form.a21_ = -turn;
        form.c2_ = -(last + form.c1_ * middle) / turn;
        return form;
    }
    // The larger pole first, the other from the product: nothing cancels.
    const double root = std::sqrt(-square);
    const double large = middle < 0 ? middle - root : middle + root;
    const double small = large == 0 ? 0 : section.a2 / large;
    form.a11_ = large;
    form.a21_ = 1;
    form.a22_ = small;
    form.c2_ = last + form.c1_ * small;
    return form;
}

std::optional<NormalisedLattice> NormalisedLattice::of(const Biquad& section) {
    NormalisedLattice form;
    form.k2_ = section.a2;
    form.k1_ = section.a1 / (1 + section.a2);
    if (!(std::abs(form.k1_) < 1 && std::abs(form.k2_) < 1)) {
        return std::nullopt;
    }
    form.c1_ = std::sqrt((1 - form.k1_) * (1 + form.k1_));
    form.c2_ = std::sqrt((1 - form.k2_) * (1 + form.k2_));
    form.v2_ = section.b2;
    form.v1_ = (section.b1 - form.v2_ * section.a1) / form.c2_;
    form.v0_ =
        (section.b0 - form.v2_ * form.k2_ - form.v1_ * form.c2_ * form.k1_) / (form.c1_ * form.c2_);
    return form;
}

// With s = (z - 1) / (g (z + 1)) the loop's s^2 + k s + 1 has these coefficients in z.
std::optional<StateVariable> StateVariable::of(const Biquad& section) {
    const double at_0 = 1 + section.a1 + section.a2, at_half_rate = 1 - section.a1 + section.a2;
    if (!(at_0 > 0 && at_half_rate > 0 && section.a2 < 1)) {
        return std::nullopt;
    }
    StateVariable form;
    const double g = std::sqrt(at_0 / at_half_rate), whole = 4 / at_half_rate;
    const double k_g = (1 - section.a2) * whole / 2;
    form.h1_ = 1 / (1 + k_g + g * g);
    form.h2_ = g * form.h1_;
    form.h3_ = g * form.h2_;
    form.m0_ = (section.b0 - section.b1 + section.b2) / at_half_rate;
    form.m2_ = (section.b0 + section.b1 + section.b2) / at_0 - form.m0_;
    form.m1_ = ((section.b0 - section.b2) * whole / 2 - form.m0_ * k_g) / g;
    return form;
}

} // namespace syntonon
