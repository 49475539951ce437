// The roots of the selected channel, whose they are, and what each does at a frequency.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/roots_in_hand.h"
#include "app/model/session.h"

#include <complex>
#include <string>
#include <vector>

namespace syntonon {

struct PlaneRoot {
    RootRef ref; // the first of equal ones
    std::complex<double> value;
    int count = 1; // of equal ones in its stage
};

// Of what is switched on, or of the selected stage alone, as far as they are at hand
// (slow_roots.h); repetitions show the stages that they hold. The selected stage is there in any
// case, last.
enum class RootsShown { whole_chain, selected_stage };
std::vector<PlaneRoot> plane_roots(const Session& session, RootsShown shown);

// Of roots on top of one another the selected stage's is meant, and the one in hand: by how many
// pixels it may be further from the pointer.
double preference_for(const Session& session, const RootRef& root);

// A root or conjugate pair and its share of level and phase at one frequency.
struct RootShare {
    double db = 0;
    double deg = 0;             // within ±180
    std::string stage;          // its id
    std::complex<double> value; // the upper one
    bool is_pole = false;
};

// Largest first. A zero contributes 20 log10 |e^jw - zero| and the angle of 1 - zero e^-jw, a pole
// the negative of the same; in the s-plane |jw - zero| by |zero|, and by 2 pi 1 kHz where that is
// 0, and the angle of jw - zero.
std::vector<RootShare> root_shares(const Session& session, double hz);

} // namespace syntonon
