// Fourier integrals of functions that are straight from place to place.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <complex>
#include <cstddef>
#include <span>
#include <vector>

namespace syntonon {

// Straight over w from one end to the other, 0 outside.
struct LinePiece {
    double from = 0, to = 1;
    double at_from = 1, at_to = 1;

    double at(double w) const {
        return from == to ? at_from : at_from + (at_to - at_from) * ((w - from) / (to - from));
    }
    bool operator==(const LinePiece&) const = default;
};

// At t = first + n, n = 0 .. count - 1: the sum over the lines of the integral of line(w) e^(jwt).
// In closed form, with the turning factors carried from n to n + 1 and set right every 64 steps:
// right to about 1e-15 of the lines' area.
std::vector<std::complex<double>> line_moments(std::span<const LinePiece> lines, double first,
                                               std::size_t count);

} // namespace syntonon
