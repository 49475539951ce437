// Where the poles of a section can lie when its numbers are words.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/word/nearest_words.h"

#include <complex>
#include <cstddef>
#include <optional>
#include <vector>

namespace syntonon {

// Of the z-plane, both ends included.
struct PlaneBox {
    double left = -1, right = 1, bottom = 0, top = 1;

    bool holds(const std::complex<double>& z) const {
        return z.real() >= left && z.real() <= right && z.imag() >= bottom && z.imag() <= top;
    }
};

// Poles of conjugate pairs within the circle that a section of these words can have, as far as they
// lie in the box; those above the real axis stand for both. Each structure has two numbers that
// place them (a1 and a2; the pole's own parts of the coupled form; the two reflection coefficients;
// g and r of the state-variable one); the number that follows from these (a rotation's other one,
// h) may be any word that is the nearest one for numbers which they are nearest to. The grid of
// direct forms is thin near z = 1 and -1, that of the coupled form even (Rader and Gold, 1967;
// Oppenheim and Schafer, Discrete-Time Signal Processing, 6.8.2). Nothing where more than `most`
// sections would have to be looked at: it is too fine to be drawn.
std::optional<std::vector<std::complex<double>>>
possible_poles(const WordFormat& format, const PlaneBox& box, std::size_t most);

} // namespace syntonon
