// The linear-phase amplitude whose greatest weighted error is least.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/design/fir/amplitude.h"
#include "core/design/watch.h"

#include <vector>

namespace syntonon {

struct ExchangeRound {
    double level = 0;   // of the error at the reference: the optimum is at least this
    double largest = 0; // error found: the optimum is at most this
};

struct Equiripple {
    std::vector<double> taps;
    double deviation = 0;          // greatest weighted error of the taps
    double least_possible = 0;     // no taps of this length have a smaller one
    std::vector<double> extrema_w; // where the error is greatest, ascending, rad/sample
    std::vector<ExchangeRound> rounds;
};

// How near to the least possible a result is, or it is refused: relative, and beside what the
// digits of a double leave of a gain of 1.
inline constexpr double equiripple_excess = 1e-6, equiripple_rounding = 1e-13;

// Remez' second algorithm on the whole bands, not on a grid: the error's extrema between grid
// points are refined (J. H. McClellan, T. W. Parks and L. R. Rabiner, A computer program for
// designing optimum FIR linear phase digital filters, IEEE Trans. Audio Electroacoust. 21, 1973; in
// barycentric form, and started from the reference of a shorter filter, after S.-I. Filip, A robust
// and scalable implementation of the Parks-McClellan algorithm for designing FIR filters, ACM
// TOMS 43, 2016). By the theorem of de la Vallee-Poussin the optimum lies between the level of the
// last reference and the greatest error: both are told.
//
// Refuses, the place empty, with the cause: pieces that leave too few places for the alternation,
// an amplitude that jumps without a gap between, one that its type cannot reach, and a search that
// does not come to rest; stopped().
Expected<Equiripple> equiripple(const LinearPhaseType& type, const Amplitude& wanted,
                                const Watch& watch);

// The greatest gain where nothing is asked for, between the pieces and beyond them.
struct GapGain {
    double gain = 0, w = 0;
};
GapGain greatest_outside(const std::vector<double>& taps, const Amplitude& wanted);

} // namespace syntonon
