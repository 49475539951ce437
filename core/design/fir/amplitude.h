// What an FIR's amplitude is to be, and the four sorts of FIRs with linear phase.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/math/line_moments.h"

#include <cstddef>
#include <span>
#include <vector>

namespace syntonon {

// Over w in rad/sample, 0 to pi; an error in it counts by its weight.
struct AmplitudePiece {
    LinePiece gain;
    double weight = 1; // positive

    bool operator==(const AmplitudePiece&) const = default;
};

// By ascending w, not overlapping; between the pieces nothing is asked for.
using Amplitude = std::vector<AmplitudePiece>;

// H(w) = A(w) e^(-jw(N-1)/2), times j where it is odd (L. R. Rabiner and B. Gold, Theory and
// Application of Digital Signal Processing, 1975, section 3.4): A is a polynomial in cos w times
// 1, cos(w/2), sin w or sin(w/2).
class LinearPhaseType {
public:
    LinearPhaseType(std::size_t length, bool odd_symmetry)
        : length_(length), is_odd_(odd_symmetry) {}

    std::size_t length() const { return length_; }
    bool is_odd() const { return is_odd_; } // h[n] = -h[N - 1 - n]
    int number() const { return (is_odd_ ? 3 : 1) + (length_ % 2 == 0 ? 1 : 0); }
    // The factor before the polynomial, and how many coefficients that has.
    double factor(double w) const;
    std::size_t unknowns() const { return (length_ + (is_odd_ ? 0 : 1)) / 2; }
    // Where it is 0 whatever the taps.
    bool is_zero_at_0() const { return is_odd_; }
    bool is_zero_at_pi() const { return number() == 2 || number() == 3; }

private:
    std::size_t length_;
    bool is_odd_;
};

// The taps whose amplitude is A: A at w = 2 pi k / N, k = 0 .. N/2.
std::vector<double> taps_of_amplitude(const LinearPhaseType& type, std::span<const double> a);

// A(w) of symmetric or antisymmetric taps.
double amplitude_at(const LinearPhaseType& type, std::span<const double> taps, double w);

} // namespace syntonon
