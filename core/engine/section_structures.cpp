// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/section_structures.h"

#include "core/word/structure.h"

namespace syntonon {

// The numbers are those of the networks that processors compute.

std::optional<CoupledForm> CoupledForm::of(const Biquad& section) {
    const auto made = structured(section, Structure::coupled_form);
    if (!made) {
        return std::nullopt;
    }
    const double share = made->values[3]; // the input's, a power of two
    const double first = made->values[4], second = made->values[5];
    CoupledForm form;
    form.d_ = made->values[0];
    form.c1_ = made->values[1] * share;
    form.c2_ = made->values[2] * share;
    form.a11_ = first;
    form.a12_ = made->real_poles ? 0 : second;
    form.a21_ = made->real_poles ? 1 : -second;
    form.a22_ = made->real_poles ? second : first;
    return form;
}

std::optional<NormalisedLattice> NormalisedLattice::of(const Biquad& section) {
    const auto made = structured(section, Structure::normalised_lattice);
    if (!made) {
        return std::nullopt;
    }
    NormalisedLattice form;
    form.k1_ = made->values[0];
    form.c1_ = made->values[1];
    form.k2_ = made->values[2];
    form.c2_ = made->values[3];
    form.v0_ = made->values[4];
    form.v1_ = made->values[5];
    form.v2_ = made->values[6];
    return form;
}

std::optional<StateVariable> StateVariable::of(const Biquad& section) {
    const auto made = structured(section, Structure::state_variable);
    if (!made) {
        return std::nullopt;
    }
    StateVariable form;
    const double g = made->values[0];
    form.h1_ = made->values[2];
    form.h2_ = g * form.h1_;
    form.h3_ = g * form.h2_;
    form.m0_ = made->values[3];
    form.m1_ = made->values[4];
    form.m2_ = made->values[5];
    return form;
}

} // namespace syntonon
