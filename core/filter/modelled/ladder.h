// What a ladder is to small signals, and how it swings by itself: of its analog equations (see
// ladder_kernel.h).
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/modelled/ladder_build.h"
#include "core/filter/modelled/ladder_kernel.h"

#include <complex>
#include <optional>
#include <vector>

namespace syntonon::modelled {

// After the poles, from what goes into the first one to the last: y4 and the others small signals'
// share, at s = j w where w = 1 is the set frequency. `at` 0: what goes in behind the feedback, 1
// to 4: behind that pole.
std::complex<double> small_signal(LadderType type, double resonance, std::size_t at,
                                  std::complex<double> s);
// Of the whole, in units of the set frequency (rad/s): four.
std::vector<std::complex<double>> small_signal_poles(LadderType type, double resonance);

// A swing by itself.
struct SelfOscillation {
    double amplitude = 0; // of the last pole's output, its fundamental
    double frequency = 1; // in units of the set one
};
// By the describing function of the saturating stages: each is taken as the gain that it has for
// the fundamental of the sine it is given (A. Gelb and W. E. Vander Velde, Multiple-Input
// Describing Functions and Nonlinear System Design, 1968, chapter 2). Nothing below the limit.
std::optional<SelfOscillation> self_oscillation(LadderType type, double resonance);

// What a sine of that amplitude, behind the drive, comes out as, over what went in: its
// fundamental, by describing functions as above; `w` in units of the set frequency. Where more than
// one state is possible the quietest. Nothing where none is found.
std::optional<std::complex<double>> driven_response(const LadderBuild& build, double resonance,
                                                    double amplitude, double w);

// Of a stage for the fundamental of a sine of that amplitude: between 1, for none, and 0.
double describing_gain(double amplitude);

} // namespace syntonon::modelled
